"""What perspective, box and guides of a sheet look like on the page, worked out from their numbers."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.drafting import division, sweeps
from hollow_marble.core.drafting.box import CORNERS, EDGES, Ellipse, Face, Placed
from hollow_marble.core.drafting.camera import Camera, cut, grid
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen
from hollow_marble.documents.sheet.model import (
    CircleGuide,
    ConstructionBox,
    DivisionGuide,
    EllipseGuide,
    Guide,
    Perspective,
    Place,
    Sheet,
    SweepGuide,
)

Line = list[Place]


class GuideShape(Frozen):
    """A guide as it shows: lines that ink holds to, fine lines that only show, and its ellipse where it is one."""

    id: str
    lines: list[Line] = []
    fine: list[Line] = []
    ellipse: EllipseGuide | None = None


class BoxEdge(Frozen):
    """An edge of the box: 0 W, 1 D or 2 H, whether it lies behind, its two ends."""

    along: int
    hidden: bool
    line: Line


class BoxFace(Frozen):
    """A face that looks at the eye."""

    face: Face
    quad: Line


class BoxShape(Frozen):
    """The construction box as it shows. eye : where it is seen from, mm from the box's middle."""

    edges: list[BoxEdge]
    faces: list[BoxFace]
    eye: tuple[float, float, float]


class Drafted(Frozen):
    """Everything drafted on a sheet.

    vanishing : homogeneous vanishing points of W, D and H; the last number is 1, or 0 at infinity
    axes : right, down and forward of the camera in the product's directions
    """

    vanishing: list[tuple[float, float, float]] = []
    axes: list[tuple[float, float, float]] = []
    horizon: Line | None = None
    grid: list[list[Line]] = []
    box: BoxShape | None = None
    guides: list[GuideShape] = []


def camera_of(perspective: Perspective) -> Camera:
    """The camera a perspective stands for."""
    turn, tilt, roll = (math.radians(a) for a in (perspective.turn, perspective.tilt, perspective.roll))
    if perspective.points == 1:
        turn = tilt = 0.0
    elif perspective.points == 2:
        tilt = 0.0
    return Camera(perspective.principal, perspective.focal, turn, tilt, roll)


def perspective_of(camera: Camera, points: int, shown: bool = True) -> Perspective:
    """A camera as it is kept with a sheet."""
    return Perspective.model_validate(
        {
            "points": points,
            "principal": camera.principal,
            "focal": camera.focal,
            "turn": math.degrees(camera.turn),
            "tilt": math.degrees(camera.tilt),
            "roll": math.degrees(camera.roll),
            "shown": shown,
        }
    )


def box_in(perspective: Perspective, box: ConstructionBox) -> Placed:
    """A construction box placed before the camera."""
    return Placed(camera_of(perspective), box.size, box.at, box.scale)


def placed_box(sheet: Sheet) -> Placed:
    """The sheet's construction box, or a sentence that there is none."""
    if sheet.perspective is None or sheet.box is None:
        raise HollowMarbleError("There is no construction box on this sheet yet. Set one first.")
    return box_in(sheet.perspective, sheet.box)


def guide_shape(guide: Guide, sheet: Sheet) -> GuideShape:
    """How a guide lies on the page. Raises where it does not fit what it lies on."""
    if isinstance(guide, CircleGuide):
        ellipse = placed_box(sheet).circle(guide.face, guide.centre, guide.radius)
        shown = ellipse_guide(guide.id, ellipse)
        return GuideShape(id=guide.id, ellipse=shown)
    if isinstance(guide, DivisionGuide):
        if guide.face is not None:
            quad = placed_box(sheet).quad(guide.face)
        elif guide.quad is not None:
            quad = np.array(guide.quad)
        else:
            raise HollowMarbleError("A division needs four corners, or a face of the box.")
        lines = division.divisions(quad, guide.columns, guide.rows, guide.on_across, guide.on_down)
        fine = division.diagonals(quad) if guide.crossed else []
        return GuideShape(id=guide.id, lines=[_line(x) for x in lines], fine=[_line(x) for x in fine])
    if isinstance(guide, SweepGuide):
        curve = sweeps.sweep(guide.family, guide.bend)
        matrix = _sweep_matrix(guide)
        comb = [_line(tooth @ matrix.T + guide.at) for tooth in sweeps.comb(curve)] if guide.comb else []
        return GuideShape(id=guide.id, lines=[_line(curve.places @ matrix.T + guide.at)], fine=comb)
    if isinstance(guide, EllipseGuide):
        return GuideShape(id=guide.id, ellipse=guide)
    return GuideShape(id=guide.id, lines=[[guide.start, guide.end]])


def ellipse_guide(ident: str, ellipse: Ellipse) -> EllipseGuide:
    """An exact ellipse as a guide."""
    return EllipseGuide(
        id=ident,
        centre=ellipse.centre,
        across=max(1.01, ellipse.across),
        down=max(1.01, ellipse.down),
        turn=math.degrees(ellipse.turn),
    )


def drafted(sheet: Sheet) -> Drafted:
    """Everything drafted on a sheet, as it lies on the page."""
    guides = [guide_shape(guide, sheet) for guide in sheet.guides]
    if sheet.perspective is None:
        return Drafted(guides=guides)
    camera = camera_of(sheet.perspective)
    rect = (0.0, 0.0, float(sheet.width), float(sheet.height))
    vanishing = [(x / w, y / w, 1.0) if w else (x, y, 0.0) for x, y, w in camera.vanishing().tolist()]
    a, b, c = camera.horizon()
    horizon = cut(np.array([-a * c, -b * c]), np.array([-b, a]), rect)
    axes = [(float(x), float(y), float(z)) for x, y, z in camera.rotation]
    return Drafted(
        vanishing=vanishing,
        axes=axes,
        horizon=horizon,
        grid=grid(camera, rect) if sheet.perspective.shown else [],
        box=_box_shape(box_in(sheet.perspective, sheet.box)) if sheet.box else None,
        guides=guides,
    )


def _box_shape(box: Placed) -> BoxShape:
    corners = [(float(x), float(y)) for x, y in box.corners]
    edges = [
        BoxEdge(along=int(np.flatnonzero(CORNERS[a] != CORNERS[b])[0]), hidden=hidden, line=[corners[a], corners[b]])
        for (a, b), hidden in zip(EDGES, box.hidden_edges())
    ]
    faces = [BoxFace(face=face, quad=_line(box.quad(face))) for face, on in box.seen.items() if on]
    x, y, z = -box.points(np.array([[0.5, 0.5, 0.5]]))[0]
    return BoxShape(edges=edges, faces=faces, eye=(float(x), float(y), float(z)))


def _sweep_matrix(guide: SweepGuide) -> NDArray[np.float64]:
    turn = math.radians(guide.turn)
    c, s = math.cos(turn) * guide.length, math.sin(turn) * guide.length
    flip = -1.0 if guide.flipped else 1.0
    return np.array([[c, -s * flip], [s, c * flip]])


def _line(places: NDArray[np.float64]) -> Line:
    return [(float(x), float(y)) for x, y in places]
