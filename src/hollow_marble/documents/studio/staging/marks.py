"""Marks laid on the parts they belong to: a thin skin of its own over the part, as a print or a foil is."""

from __future__ import annotations

import io
from dataclasses import dataclass, replace

import cv2
import numpy as np
import skia
from numpy.typing import NDArray
from PIL import Image as Pictures
from scipy.interpolate import LinearNDInterpolator

from hollow_marble.core.bodies.body import BodyMesh
from hollow_marble.core.render.scene import Sheet, Surface
from hollow_marble.core.shelf import Shelf
from hollow_marble.core.studio.colour import to_linear
from hollow_marble.core.surface.nearest import Nearest
from hollow_marble.core.surface.unrolling import Unrolled, unrolled
from hollow_marble.documents.edit import LoadAsset
from hollow_marble.documents.sheet.notes import skia_font
from hollow_marble.documents.studio.model import Finish
from hollow_marble.documents.studio.model.marks import Artwork, Mark, Words
from hollow_marble.documents.studio.staging.dressing import one_relief, surface_of

Floats = NDArray[np.float64]
Image = NDArray[np.float32]

OVER = 0.03
"""How far a mark's skin lies over the part, mm: as thick as a coat of ink and varnish."""
PX_TALL = 360
"""Px of the height of a line of words."""
MOST_PX = 1_200
"""Px of the longer side that artwork is laid on with: finer than a picture shows it."""
BEVEL = 0.3
"""Mm over which the edge of a relief slopes."""


CELL = 0.12
"""Side of the squares that a mark is cut into where it is photographed, mm; a mark has at most so many across: """
MOST_CELLS = 420


@dataclass(frozen=True, eq=False)
class LaidMark:
    """A mark as a skin over its part, in the form's own coordinates: the piece of surface, where each point lies on the picture (N, 2) in mm
    from its lower left corner, and what it is finished in."""

    mark: Mark
    piece: Unrolled
    at: Floats
    surface: Surface
    tall: float
    over: BodyMesh | None = None
    """The part's mesh where it has details on its skin: the mark lies on them, and was laid on what they lie on."""

    def cut_out(self) -> tuple[Unrolled, Floats]:
        """The skin only where the mark is, in small squares, and where its points lie on the picture.

        Past it nothing may lie over the part: the tracer's lamps do not shine through what is clear.
        """
        cover = self.surface.cover
        assert cover is not None
        cell = max(CELL, self.mark.width / MOST_CELLS)
        columns, rows = max(2, round(self.mark.width / cell)), max(2, round(self.tall / cell))
        there = cv2.resize(cover.pixels[..., 0], (columns, rows), interpolation=cv2.INTER_AREA)[::-1]
        kept = cv2.dilate(there, np.ones((3, 3), np.uint8)) > 0.02
        x, y = np.meshgrid(np.linspace(0, self.mark.width, columns + 1), np.linspace(0, self.tall, rows + 1))
        at = np.stack([x.reshape(-1), y.reshape(-1)], axis=1)
        k = (np.arange(rows)[:, None] * (columns + 1) + np.arange(columns))[kept]
        triangles = np.concatenate(
            [np.stack([k, k + 1, k + columns + 2], 1), np.stack([k, k + columns + 2, k + columns + 1], 1)]
        )
        used, where = np.unique(triangles, return_inverse=True)
        triangles, at = where.reshape(-1, 3), at[used]
        on = LinearNDInterpolator(self.at, np.concatenate([self.piece.points, self.piece.normals], axis=1))(at)
        whole = np.isfinite(on).all(axis=1)
        triangles = triangles[whole[triangles].all(axis=1)]
        on = np.nan_to_num(on)
        normals = on[:, 3:] / np.maximum(np.linalg.norm(on[:, 3:], axis=1, keepdims=True), 1e-12)
        if self.over is not None:
            on[:, :3], normals = _onto(self.over, on[:, :3], normals)
        return Unrolled(on[:, :3], normals, triangles, at, np.zeros((len(at), 2, 3))), at


def _onto(mesh: BodyMesh, points: Floats, normals: Floats) -> tuple[Floats, Floats]:
    """Points over a bare skin moved along its normals onto what details make of it, with the normals there; where nothing is, as they are."""
    corners = mesh.positions.astype(np.float64)
    found = Nearest(corners, mesh.triangles.astype(np.int64)).met(points + _ABOVE * normals, -normals)
    there = (found.triangle >= 0) & (found.distance < 2 * _ABOVE)
    own = np.einsum("kc,kcj->kj", found.shares, mesh.normal_vectors()[mesh.triangles[np.maximum(found.triangle, 0)]])
    own /= np.maximum(np.linalg.norm(own, axis=1, keepdims=True), 1e-12)
    return np.where(there[:, None], found.place, points), np.where(there[:, None], own, normals)


_ABOVE = 4.0
"""mm over a bare skin from which what details make of it is looked for."""


def picture_of(mark: Mark, load: LoadAsset, shelf: Shelf) -> Image:
    """(h, w, 4) linear colours and how much of it is there, 0 to 1, with a clear margin of a px."""
    what = mark.what
    if isinstance(what, Words):
        return shelf.get("words", (what.text, what.font), lambda: _lettering(what))
    return shelf.get("artwork", what.picture, lambda: _artwork(load(what.picture)))


def _lettering(words: Words) -> Image:
    font = skia_font(words.font, PX_TALL)
    bounds = skia.Rect()
    font.measureText(words.text, skia.TextEncoding.kUTF8, bounds)
    width, tall = max(int(bounds.width()) + 6, 8), max(int(bounds.height()) + 6, 8)
    surface = skia.Surface(width, tall)
    with surface as canvas:
        canvas.clear(skia.ColorTRANSPARENT)
        canvas.drawString(
            words.text, 3 - bounds.left(), 3 - bounds.top(), font, skia.Paint(Color=skia.ColorWHITE, AntiAlias=True)
        )
    cover = surface.makeImageSnapshot().toarray(colorType=skia.ColorType.kRGBA_8888_ColorType)[..., 3]
    out = np.ones((tall, width, 4), np.float32)
    out[..., 3] = cover / 255
    return out


def _artwork(data: bytes) -> Image:
    with Pictures.open(io.BytesIO(data)) as picture:
        picture.thumbnail((MOST_PX, MOST_PX))
        pixels = np.asarray(picture.convert("RGBA"), np.float32) / 255
    pixels = np.pad(pixels, ((1, 1), (1, 1), (0, 0)))
    return np.concatenate([to_linear(pixels[..., :3]), pixels[..., 3:]], axis=-1).astype(np.float32)


def laid_mark(mark: Mark, mesh: BodyMesh, worn: Finish, load: LoadAsset, shelf: Shelf) -> LaidMark:
    """A mark on its part, whose finish is `worn`; worked out once."""
    key = (mesh.key, mark.model_dump_json(exclude={"name"}), worn.model_dump_json() if mark.way == "relief" else "")
    return shelf.get("laid mark", key, lambda: _laid(mark, mesh, worn, load, shelf))


def cut_out(
    mark: Mark, mesh: BodyMesh, worn: Finish, load: LoadAsset, shelf: Shelf
) -> tuple[LaidMark, Unrolled, Floats]:
    """A mark as it is photographed: laid on its part and cut out along its edge, with where its points lie on the picture."""
    laid = laid_mark(mark, mesh, worn, load, shelf)
    piece, at = shelf.get("cut mark", (mesh.key, mark.model_dump_json(include=_OUTLINE)), laid.cut_out)
    return laid, piece, at


_OUTLINE = {"what", "at", "width", "turn", "way", "depth"}
"""Fields of a mark that say where its skin is."""


def _laid(mark: Mark, mesh: BodyMesh, worn: Finish, load: LoadAsset, shelf: Shelf) -> LaidMark:
    picture = picture_of(mark, load, shelf)
    tall = mark.width * picture.shape[0] / picture.shape[1]
    half = (mark.width / 2, tall / 2)
    piece: Unrolled = shelf.get("mark", (mesh.key, mark.at, mark.turn, half), lambda: _piece(mesh, mark, half))
    over = mesh if mesh.beneath else None
    return LaidMark(mark, piece, piece.flat + half, _surface(mark, picture, worn, load, shelf), tall, over)


def _piece(mesh: BodyMesh, mark: Mark, half: tuple[float, float]) -> Unrolled:
    mesh = mesh.beneath() if mesh.beneath else mesh  # the walls of a slot would lead it astray
    points, triangles = mesh.welded()
    normals = np.zeros_like(points)
    joined = mesh.joined()
    np.add.at(normals, joined, mesh.normal_vectors().astype(np.float64))
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
    at = np.array(mark.at)
    # upright on the surface, turned about its middle
    nearest = int(np.linalg.norm(points - at, axis=1).argmin())
    normal = normals[nearest]
    up = np.array([0.0, 0.0, 1.0]) if abs(normal[2]) < 0.95 else np.array([0.0, 1.0, 0.0])
    t = np.radians(mark.turn)
    up = up * np.cos(t) + np.cross(normal, up) * np.sin(t) + normal * (normal @ up) * (1 - np.cos(t))
    return unrolled(points, normals, triangles, at, up, half)


def _surface(mark: Mark, picture: Image, worn: Finish, load: LoadAsset, shelf: Shelf) -> Surface:
    """What a mark is finished in, raised or sunk where it is, and cut out along its edge."""
    own = mark.way != "relief"
    under = surface_of(mark.worn if own else worn, load, shelf)
    slope = max(BEVEL * picture.shape[1] / mark.width / 2, 0.5)
    raised: Image = cv2.GaussianBlur(picture[..., 3], (0, 0), slope) * np.float32(mark.depth)
    there = picture[..., 3:]
    if not own:  # the slope runs out into the part around it
        around = cv2.dilate(picture[..., 3], np.ones((3, 3), np.uint8), iterations=max(1, round(3 * slope)))
        there = (around[..., None] > 0.02).astype(np.float32)
    reliefs = [] if under.relief is None or mark.way in ("print", "foil") else [under.relief]
    if mark.depth:
        reliefs.append(Sheet(raised[..., None], mark.width, repeats=False))
    colour = under.colour
    if mark.way == "print" and isinstance(mark.what, Artwork):
        colour = Sheet(picture[..., :3], mark.width, repeats=False)
    return replace(under, colour=colour, relief=one_relief(reliefs), cover=Sheet(there, mark.width, repeats=False))
