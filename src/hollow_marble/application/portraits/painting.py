"""Shaded triangles as a small picture: the far ones first, the near ones over them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw

from hollow_marble.core.bodies.body import BodyMesh

Values = NDArray[np.float64]
Size = tuple[int, int]
"""Width and height, px."""

FINER = 3
"""Drawn this many times as large and made small, for smooth edges."""

MOST_TRIANGLES = 6000


def canvas_of(size: Size, ground: tuple[int, int, int]) -> Image.Image:
    """What is drawn on, larger than the picture will be."""
    return Image.new("RGB", (size[0] * FINER, size[1] * FINER), ground)


def made_small(canvas: Image.Image, size: Size) -> NDArray[np.uint8]:
    """(tall, wide, 3) what was drawn, in the picture's size."""
    return np.asarray(canvas.resize(size, Image.Resampling.BOX))


def paint(canvas: Image.Image, spots: Values, away: Values, colours: NDArray[np.integer]) -> None:
    """Fill triangles (t, 3, 2) px of the canvas in colours (t, 3), the ones farthest away (t,) first."""
    pen = ImageDraw.Draw(canvas)
    for k in np.argsort(-away):
        colour = tuple(colours[k].tolist())
        pen.polygon([tuple(spot) for spot in spots[k].tolist()], fill=colour, outline=colour)


def corners_of(mesh: BodyMesh) -> Values:
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
