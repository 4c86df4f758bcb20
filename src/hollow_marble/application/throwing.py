"""Lines of sheets thrown onto a form: where they are drawn in a pinned view, from that view's own eye."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.application.outlines import in_plane
from hollow_marble.application.sheets.strokes import new_id
from hollow_marble.application.workspace import Workspace
from hollow_marble.core.curves.planes import UPRIGHT
from hollow_marble.core.errors import HollowMarbleError, NotFoundError
from hollow_marble.core.paths import lengths
from hollow_marble.documents.edit import find
from hollow_marble.documents.form.edits import Shape
from hollow_marble.documents.form.model import Form, Reference
from hollow_marble.documents.form.skin_lines import How, SheetLine
from hollow_marble.documents.form.steps import Vector
from hollow_marble.documents.sheet.drafting import placed_box
from hollow_marble.documents.sheet.drawing import view_strokes
from hollow_marble.documents.sheet.model import Sheet
from hollow_marble.store.library import Project

Values = NDArray[np.float64]

_FAR = 2_000.0
"""mm before the plane of a view that rays begin, square to it."""
_MOST = 240
"""Places of a line that are thrown."""
_TOUCH = 0.012
"""How far beside a line a touch may be, in shares of the page's width."""
_COMES_ROUND = 0.05


class ThrowRequest(BaseModel):
    """A touch on a line of a pinned view: the eye, and the way it looks. `how` : from the view's own eye, or to what is nearest."""

    eye: Vector
    way: Vector
    how: How = "thrown"
    smooth: Annotated[float, Field(ge=0, le=1000)] = 0.0


def throw(editing: Editing, project: Project, ident: str, part: str, wish: ThrowRequest, hand: Hand) -> Made:
    """Lay the touched line of a sheet on a part's skin.

    Raises
    ------
    HollowMarbleError
        where no line was touched, or it does not lie on the part.
    """

    def compose(form: Form) -> Proposal:
        reference, stroke = _touched(editing.workspace, project, form, np.array(wish.eye), np.array(wish.way))
        line = SheetLine(
            reference=reference.id, stroke=stroke, how=wish.how, smooth=wish.smooth, tag=new_id(6),
            **_rays(editing.workspace, project, reference, stroke),
        )  # fmt: skip
        return Proposal(Shape(part=part, step=line))

    return editing.make(project, ident, compose, hand)


def thrown_now(workspace: Workspace, project: Project, form: Form, step: SheetLine) -> SheetLine:
    """A line on a skin as its sheet has it now.

    Raises
    ------
    NotFoundError
        where the view or the line is gone.
    """
    reference = find(form.references, step.reference, "reference")
    return step.model_copy(update=_rays(workspace, project, reference, step.stroke))


def _lines(workspace: Workspace, project: Project, reference: Reference) -> tuple[Sheet, dict[str, Values]]:
    """The sheet of a pinned view, and its lines in px of the page by their ids."""
    sheet = project.ledger.state(reference.sheet)
    assert isinstance(sheet, Sheet)
    view = find(sheet.views, reference.view, "view")
    ink = workspace.raster(project, reference.sheet).ink
    found = {stroke.id: ink.samples(stroke.samples)[:, :2].astype(float) for stroke in view_strokes(sheet, view)}
    return sheet, {name: line for name, line in found.items() if len(line) > 1}


def _rays(workspace: Workspace, project: Project, reference: Reference, stroke: str) -> dict[str, object]:
    """The fields of a step that says where a line is thrown from, and which way."""
    sheet, lines = _lines(workspace, project, reference)
    if stroke not in lines:
        raise NotFoundError("That line is no longer on the sheet.")
    line = lines[stroke]
    along = lengths(line)
    closed = float(np.linalg.norm(line[0] - line[-1])) < _COMES_ROUND * along[-1] and along[-1] > 0
    even = np.linspace(0, along[-1], min(_MOST, max(8, len(line))))
    places = np.stack([np.interp(even, along, line[:, axis]) for axis in range(2)], axis=1)
    if closed:
        places = places[:-1]
    if reference.plane == "sketch":
        box = placed_box(sheet)
        middle = box.points(np.array([[0.5, 0.5, 0.5]]))[0]
        ways = np.array([box.camera.ray((float(x), float(y))) for x, y in places])
        starts = np.broadcast_to(-middle, ways.shape)
    else:
        plane = UPRIGHT[reference.plane]
        starts = plane.at(in_plane(reference, [places])[0]) + _FAR * plane.normal
        ways = np.broadcast_to(-plane.normal, starts.shape)
    return {"starts": _vectors(starts), "ways": _vectors(ways), "closed": bool(closed)}


def _vectors(values: Values) -> tuple[Vector, ...]:
    rounded = np.round(values, 6) + 0.0
    return tuple((float(x), float(y), float(z)) for x, y, z in rounded)


def _touched(workspace: Workspace, project: Project, form: Form, eye: Values, way: Values) -> tuple[Reference, str]:
    """The view and the line that a ray from an eye passes nearest to."""
    best: tuple[float, Reference, str] | None = None
    for reference in form.references:
        if not reference.visible:
            continue
        sheet, lines = _lines(workspace, project, reference)
        place = _on_page(reference, sheet, eye, way)
        if place is None:
            continue
        for name, line in lines.items():
            away = float(_away(line, place).min()) / max(sheet.width, 1)
            if away < _TOUCH and (best is None or away < best[0]):
                best = (away, reference, name)
    if best is None:
        raise HollowMarbleError(
            "There is no line of a sheet there. Pin a view behind the form, and touch a line of it; or draw one over the part."
        )
    return best[1], best[2]


def _on_page(reference: Reference, sheet: Sheet, eye: Values, way: Values) -> Values | None:
    """Where on the page a ray meets a view; None where it does not."""
    if reference.plane == "sketch":
        box = placed_box(sheet)
        camera = box.camera
        seen = camera.rotation @ way
        return None if seen[2] <= 1e-9 else np.asarray(np.asarray(camera.principal) + camera.focal * seen[:2] / seen[2])
    plane = UPRIGHT[reference.plane]
    toward = float(way @ plane.normal)
    if abs(toward) < 1e-6:
        return None
    place = eye - (float(eye @ plane.normal) / toward) * way
    flat = plane.of(place[None])[0]
    (ax, ay), (bx, by) = reference.line
    scale = reference.length / float(np.hypot(bx - ax, by - ay))
    return np.asarray(np.array([(ax + bx) / 2, (ay + by) / 2]) + flat * [1, -1] / scale)


def _away(line: Values, place: Values) -> Values:
    a, b = line[:-1], line[1:]
    way = b - a
    share = np.clip(((place - a) * way).sum(axis=1) / np.maximum((way * way).sum(axis=1), 1e-12), 0, 1)
    return np.asarray(np.linalg.norm(a + share[:, None] * way - place, axis=1))
