"""STEP out and in, read anew by the kernel and compared."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.solids.patches import patches_of
from hollow_marble.core.solids.solid import Solid, here
from hollow_marble.exchange.step import Named3D, read_file, step_of
from tests.core import drawn as d
from tests.core.test_patches import box as cage_box
from tests.core.test_patches import shaken, solid_of


def block() -> Solid:
    solid: Solid = here("extruded", "b", d.drawn(d.rectangle(40, 30, rounds={0: 4.0}), "top"), 20.0)
    return solid


def test_parts_come_back_with_names_colours_and_their_measures() -> None:
    sculpted, built = solid_of(patches_of(shaken(cage_box(4, 4, 6)))), block()
    data = step_of([Named3D("Körper", (0.2, 0.3, 0.4), sculpted), Named3D("Batteriefach", None, built)], "Linnet")
    assert b"AP242" in data
    header = data[: data.index(b"ENDSEC")]
    assert header.count(b"Linnet") == 2
    assert b"'Hollow Marble'" in header
    assert b"CASCADE" not in header
    assert b"SI_UNIT(.MILLI.,.METRE.)" in data
    found = read_file(data, "step", "linnet.step", False)
    assert [part.name for part, _ in found] == ["Körper", "Batteriefach"]
    assert found[0][0].colour == pytest.approx((0.2, 0.3, 0.4), abs=1e-6)
    assert found[1][0].colour is None
    for (part, diagnosis), due in zip(found, (sculpted, built)):
        assert diagnosis.closed
        assert diagnosis.sentence().startswith("It is a closed solid")
        assert len(part.solid.names) == len(due.names)
        one, other = here("measures", part.solid), here("measures", due)
        assert one[0] == pytest.approx(other[0], rel=1e-9)
        assert one[1] == pytest.approx(other[1], rel=1e-9)
        assert one[2] == pytest.approx(other[2], abs=1e-6)
        away = here("away", due, here("mesh", part.solid, 0.2).points[::7][:400])
        assert np.max(away) < 1e-6, "mm between what was read and what was written, at sampled points"


def test_an_open_shell_is_told_and_healed() -> None:
    surface = here("turned", "t", d.drawn(d.through([(5, 0), (8, 10), (4, 20)])), d.UP, 360.0, False)
    data = step_of([Named3D("Vase", None, surface)], "Vase")
    ((part, diagnosis),) = read_file(data, "step", "vase.step", False)
    assert not diagnosis.closed
    assert "open along 2 edges" in diagnosis.sentence()
    assert not part.solid.closed
    capped = here("capped", "c", part.solid)
    assert here("healed", "h", capped).volume == pytest.approx(capped.volume, rel=1e-9)


@pytest.mark.parametrize(
    "damage",
    [lambda data: data[: len(data) // 2], lambda data: b"not a file at all", lambda data: b"", lambda data: data[::-1]],
    ids=["cut off", "something else", "empty", "backwards"],
)
def test_what_is_damaged_is_refused_in_words(damage: object) -> None:
    data = damage(step_of([Named3D("Block", None, block())], "Block"))  # type: ignore[operator]
    with pytest.raises(HollowMarbleError, match=r"block.step (cannot be read|is damaged|holds no)"):
        read_file(data, "step", "block.step", False)
