"""Probes: curvature maps and soundness."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

import numpy as np
from flask import Response
from flask_openapi3 import Tag
from numpy.typing import NDArray

from hollow_marble.application import checks, forms
from hollow_marble.web import shapes
from hollow_marble.web.blueprint import Blueprint
from hollow_marble.web.documents_api import project_of
from hollow_marble.web.packing import packed
from hollow_marble.web.running import application

api = Blueprint("surface", __name__, url_prefix="/api/projects/<project>/forms", abp_tags=[Tag(name="surface")])


@api.get("/<document>/parts/<part>/curvature")
def curvature(path: shapes.InPart) -> Response:
    """Mean, largest (1/mm) and Gaussian (1/mm²) curvature at every mesh point, with the direction of the largest (3 of 127ths), packed, and
    with the range most of it lies in."""
    project = project_of(path)
    form, part = forms.part_of(project, path.document, path.part)
    found = application().workspace.evaluator(project).body(part, form.parts).curvature()
    values = {"mean": found.mean, "gaussian": found.gaussian, "largest": found.largest}
    meta = {name: _range(value) for name, value in values.items()} | {"exact": float(found.exact.mean())}
    return packed(
        meta,
        {
            **{name: value.astype(np.float32) for name, value in values.items()},
            "along": np.round(found.along * 127).astype(np.int8),
            "exact": found.exact.astype(np.uint8),
        },
    )


@api.get("/<document>/soundness", responses={200: shapes.SoundnessAnswer})
def soundness(path: shapes.InDocument) -> dict[str, Any]:
    """What is wrong with the shown parts, part by part."""
    project = project_of(path)
    answer = []
    for part, found in checks.soundness(application(), project, forms.form_of(project, path.document)):
        answer.append(
            {
                "part": part.id,
                "name": part.name,
                "closed": found.closed,
                "manifold": found.manifold,
                "consistent": found.consistent,
                "counts": found.counts,
                "findings": [{"part": part.id, **asdict(finding)} for finding in found.findings],
            }
        )
    return {"parts": answer}


def _range(values: NDArray[np.float64]) -> float:
    """The size that nine tenths of all values stay under: a range for colours that outliers do not spoil."""
    return float(max(np.quantile(np.abs(values), 0.9), 1e-6))
