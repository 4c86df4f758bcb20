"""Weights: what a cubic decimetre of a material weighs, from common handbooks."""

from __future__ import annotations

import pytest

from hollow_marble.core.materials import DENSITY, MATERIALS, grams


def test_a_litre_weighs_its_density_in_kilograms() -> None:
    assert set(DENSITY) == set(MATERIALS)
    assert grams(1e6, "aluminium") == pytest.approx(2700)
    assert grams(1e6, "ABS") == pytest.approx(1050)
    # lighter than water float: polypropylene, beech, cork
    assert {name for name in MATERIALS if DENSITY[name] < 1} == {"polypropylene", "beech", "cork"}
