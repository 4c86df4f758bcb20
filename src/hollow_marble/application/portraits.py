"""Small pictures of documents at any line of their ledgers, for a history to be looked through, a shelf, a thread."""

from __future__ import annotations

import hashlib
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw

from hollow_marble.application.sheets.pages import small_page_at
from hollow_marble.application.workspace import Workspace
from hollow_marble.core.bodies.body import BodyMesh
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.sheet.model import Sheet
from hollow_marble.exchange.pictures import png
from hollow_marble.store.library import Project

AZIMUTH, RISE = 0.62, 0.32
"""Radians: three-quarter from above, as Form looks at a form first."""

TOWARDS_LIGHT = np.array([-0.35, -0.55, 0.75]) / np.linalg.norm([-0.35, -0.55, 0.75])
GROUND, DARK, PALE = (np.array(rgb, float) for rgb in ((239, 235, 228), (96, 90, 82), (214, 208, 197)))
FINER = 3
"""Drawn this many times as large and made small, for smooth edges."""

MOST_TRIANGLES = 6000

Values = NDArray[np.float64]


def portrait(workspace: Workspace, project: Project, ident: str, edit: int | None, wide: int) -> bytes:
    """PNG of a sheet or a form at a line of its ledger (None is its start), so many px wide.

    Raises
    ------
    HollowMarbleError
        for a document that has no look of its own.
    """
    state: Any = project.ledger.state(ident, edit, at_head=False)
    if isinstance(state, Sheet):
        return small_page_at(workspace, project, ident, edit, wide)
    if not isinstance(state, Form):
        raise HollowMarbleError("Only sheets and forms have small pictures.")
    evaluator = workspace.evaluator(project)
    shown = evaluator.shown(state)
    keys = " ".join(mesh.key for _, mesh in shown)
    name = hashlib.sha256(f"portrait {wide} {keys}".encode()).hexdigest()
    data = workspace.drawn.get(name)
    if data is None:
        data = png(draw_form([mesh for _, mesh in shown], wide, round(wide * 2 / 3)))
        workspace.drawn.put(name, lambda: data)
    return data


def draw_form(meshes: list[BodyMesh], wide: int, tall: int) -> NDArray[np.uint8]:
    """(tall, wide, 3) meshes from a corner, shaded by one light: the far triangles first, the near ones over them."""
    canvas = Image.new("RGB", (wide * FINER, tall * FINER), tuple(int(c) for c in GROUND))
    corners = [_corners(mesh) for mesh in meshes if len(mesh.triangles)]
    if corners:
        triangles = np.concatenate(corners)
        right, up, away = _axes()
        flat = np.stack([triangles @ right, triangles @ up], axis=-1)
        low, high = flat.reshape(-1, 2).min(axis=0), flat.reshape(-1, 2).max(axis=0)
        scale = 0.84 * min(canvas.width / max(high[0] - low[0], 1e-6), canvas.height / max(high[1] - low[1], 1e-6))
        spots = (flat - (low + high) / 2) * scale * (1, -1) + (canvas.width / 2, canvas.height / 2)
        normals = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])
        normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
        normals *= np.where(normals @ away > 0, -1.0, 1.0)[:, None]  # shells open to the eye show their inside
        light = np.clip(0.5 + 0.5 * (normals @ TOWARDS_LIGHT), 0, 1)[:, None]
        colours = np.rint(DARK + (PALE - DARK) * light).astype(int)
        pen = ImageDraw.Draw(canvas)
        for k in np.argsort(-(triangles @ away).mean(axis=1)):
            colour = tuple(colours[k].tolist())
            pen.polygon([tuple(spot) for spot in spots[k].tolist()], fill=colour, outline=colour)
    return np.asarray(canvas.resize((wide, tall), Image.Resampling.BOX))


def _axes() -> tuple[Values, Values, Values]:
    """Right, up and away from the eye."""
    level = np.cos(RISE)
    away = np.array([-np.sin(AZIMUTH) * level, np.cos(AZIMUTH) * level, -np.sin(RISE)])
    right = np.cross(away, [0.0, 0.0, 1.0])
    right /= np.linalg.norm(right)
    return right, np.cross(right, away), away


def _corners(mesh: BodyMesh) -> Values:
    """(t, 3, 3) corners of a mesh's triangles; of one too fine for a small picture, of its patches' outlines instead."""
    triangles = mesh.triangles
    if len(triangles) > MOST_TRIANGLES:
        starts, ends = mesh.patch_starts[:-1], mesh.patch_starts[1:]
        middle = np.add.reduceat(mesh.positions.astype(float), starts) / (ends - starts)[:, None]
        return _fans(mesh, middle)
    return mesh.positions[triangles].astype(float)


def _fans(mesh: BodyMesh, middle: Values) -> Values:
    """Triangles from each patch's middle to the sides that no other triangle of the patch shares."""
    triangles, patch = mesh.triangles.astype(np.int64), mesh.triangle_patch.astype(np.int64)
    sides = np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]])
    owner = np.tile(patch, 3)
    order = np.sort(sides, axis=1)
    _, first, counts = np.unique(order @ [len(mesh.positions), 1], return_index=True, return_counts=True)
    rim = first[counts == 1]
    ends = mesh.positions[sides[rim]].astype(float)
    return np.stack([middle[owner[rim]], ends[:, 0], ends[:, 1]], axis=1)
