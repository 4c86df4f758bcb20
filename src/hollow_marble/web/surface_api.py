"""Probes: curvature maps and soundness."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

import numpy as np
from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from hollow_marble.core.cage.skin import derivatives
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.surface.curvature import skin_curvature
from hollow_marble.core.surface.soundness import check_soundness
from hollow_marble.documents.edit import find
from hollow_marble.web import shapes
from hollow_marble.web.packing import packed
from hollow_marble.web.services import services

api = APIBlueprint("surface", __name__, url_prefix="/api/projects/<project>/forms", abp_tags=[Tag(name="surface")])


@api.get("/<document>/parts/<part>/curvature")
def curvature(path: shapes.InPart) -> Response:
    """Mean (1/mm) and Gaussian (1/mm²) curvature at every skin point, packed, with the range most of it lies in."""
    project = services().project(path.project)
    part = find(services().form(project, path.document).parts, path.part, "part")
    if part.still:
        raise HollowMarbleError(f"{part.name} is a still body of flat triangles, so it has no curvature to show.")
    shaped = services().evaluator(project).shaped(part)
    found = skin_curvature(shaped.plan, derivatives(shaped.plan, shaped.cage.points))
    meta = {"mean": _range(found.mean), "gaussian": _range(found.gaussian), "exact": float(found.exact.mean())}
    return packed(
        meta,
        {
            "mean": found.mean.astype(np.float32),
            "gaussian": found.gaussian.astype(np.float32),
            "exact": found.exact.astype(np.uint8),
        },
    )


@api.get("/<document>/soundness", responses={200: shapes.SoundnessAnswer})
def soundness(path: shapes.InDocument) -> dict[str, Any]:
    """What is wrong with the shown parts, part by part."""
    project = services().project(path.project)
    evaluator = services().evaluator(project)
    answer = []
    for part in services().form(project, path.document).parts:
        if not part.visible:
            continue
        found = check_soundness(*evaluator.mesh(part))
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


def _range(values: np.ndarray) -> float:
    """The size that nine tenths of all values stay under: a range for colours that outliers do not spoil."""
    return float(max(np.quantile(np.abs(values), 0.9), 1e-6))
