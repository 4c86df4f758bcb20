"""Marks on a part: cut out where they are, as thick as ink, raised or sunk, in finishes of their own."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form.curves import CurvePiece, DrawnCurve
from hollow_marble.documents.form.details import GrilleStep, StampedCurve
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.form.recipe import FromPart
from hollow_marble.documents.form.starts import BoxStart, SphereStart
from hollow_marble.documents.studio import edits as s
from hollow_marble.documents.studio.model import Artwork, Finish, Mark, Setting, Studio, Words
from hollow_marble.documents.studio.staging import scene_of
from hollow_marble.documents.studio.staging.marks import OVER, cut_out

PART = Part(id="p", name="Pebble", steps=(SphereStart(size=(80, 80, 80), divisions=3),))
FORM = Form(parts=(PART,))


def picture() -> bytes:
    """Left half red, right half clear."""
    pixels = np.zeros((40, 80, 4), np.uint8)
    pixels[:, :40] = (200, 10, 10, 255)
    file = io.BytesIO()
    Image.fromarray(pixels).save(file, "PNG")
    return file.getvalue()


EVALUATOR = FormEvaluator(lambda sha: picture())
FRONT = (0.0, -40.0, 0.0)
ART = Artwork(picture="a" * 64, size=(80, 40))
WORD = Mark(id="w", part="p", what=Words(text="Linnet"), at=FRONT, width=20)


def area(points: np.ndarray, triangles: np.ndarray) -> float:
    a, b, c = (points[triangles[:, k]] for k in range(3))
    return float(np.linalg.norm(np.cross(b - a, c - a), axis=1).sum() / 2)


def test_artwork_is_cut_out_where_it_is_and_lies_on_the_part() -> None:
    """Half of 20 × 10 mm is there; on a ball of 40 mm it lies 0.03 mm over it (similar triangles)."""
    mesh = EVALUATOR.taken(PART, 0.01)
    laid, piece, at = cut_out(
        Mark(id="a", part="p", what=ART, at=FRONT, width=20), mesh, Finish(), EVALUATOR.load, EVALUATOR.shelf
    )
    assert area(piece.points, piece.triangles) == pytest.approx(100, rel=0.06)
    assert at[:, 0].max() < 10.5
    assert np.linalg.norm(piece.points, axis=1) == pytest.approx(40, abs=0.2)
    assert laid.surface.colour is not None
    scene = scene_of(Setting(marks=(laid.mark,)), FORM, EVALUATOR, 200)
    mark = next(body for body in scene.bodies if body.surface.cover is not None)
    assert np.linalg.norm(mark.points - [0, 0, 40], axis=1) == pytest.approx(40 + OVER, abs=0.2)
    assert mark.product


def test_words_are_as_wide_as_they_say_and_stand_upright() -> None:
    mesh = EVALUATOR.taken(PART, 0.01)
    _, piece, at = cut_out(WORD, mesh, Finish(), EVALUATOR.load, EVALUATOR.shelf)
    assert np.ptp(at[:, 0]) == pytest.approx(20, abs=0.4)
    left, right = piece.points[at[:, 0] < 3].mean(axis=0), piece.points[at[:, 0] > 17].mean(axis=0)
    assert left[0] < -6 < 6 < right[0], "read from the front it runs from left to right"
    low, high = piece.points[at[:, 1] < 1].mean(axis=0), piece.points[at[:, 1] > at[:, 1].max() - 1].mean(axis=0)
    assert low[2] < high[2]


@pytest.mark.parametrize(
    ("way", "base"), [("print", "scatter"), ("foil", "metal"), ("stencil", "scatter"), ("relief", "scatter")]
)
def test_every_way_has_its_finish_and_a_depth_shows(way: str, base: str) -> None:
    worn = Finish(material="rubber", colour="#208040")
    mark = WORD.model_copy(
        update={"way": way, "depth": -0.2, "finish": Finish(material="gloss plastic", colour="#101010")}
    )
    laid, *_ = cut_out(mark, EVALUATOR.mesh(PART), worn, EVALUATOR.load, EVALUATOR.shelf)
    assert laid.surface.made.base == base
    assert laid.surface.relief is not None
    assert laid.surface.relief.pixels.min() == pytest.approx(-0.2, abs=0.02)
    if way == "relief":
        assert laid.surface.made == worn.made()


def test_marks_come_and_go_and_are_counted() -> None:
    studio = s.PutMark(mark=WORD).applied_to(Studio())
    assert s.PutMark(mark=WORD).sentence() == "Laid Linnet on, 20 mm wide"
    off = s.PutMark(mark=WORD.model_copy(update={"on": False})).applied_to(studio)
    assert len(off.setting.marks) == 1
    assert all(body.surface.cover is None for body in scene_of(off.setting, FORM, EVALUATOR, 100).bodies)
    assert s.RemoveMark(id="w").applied_to(off).setting.marks == ()
    full = studio.setting.model_copy(update={"marks": tuple(WORD.model_copy(update={"id": str(k)}) for k in range(60))})
    with pytest.raises(HollowMarbleError, match="takes 60 marks"):
        s.PutMark(mark=WORD).applied_to(studio.model_copy(update={"setting": full}))


def test_a_mark_beside_a_grille_lies_as_it_would_without_it_and_on_what_is_raised() -> None:
    """Laid over a mesh with slots it went astray: their walls turned the way across. Over a raised badge it lies on the badge."""
    evaluator = FormEvaluator(lambda sha: b"")
    bare = Part(id="a", name="A", steps=(BoxStart(size=(60.0, 34.0, 90.0), divisions=(2, 2, 3)),))
    grille = GrilleStep(at=(0.0, -17.0, 12.0), wide=14.0, tall=8.0, depth=1.2)
    mark = Mark(id="m", part="a", what=Words(text="IIIIIIIIII"), at=(0.0, -17.0, 0.0), width=24.0)
    pieces = []
    for part in (bare, bare.with_step(grille)):
        _, piece, at = cut_out(mark, evaluator.mesh(part), Finish(), evaluator.load, evaluator.shelf)
        pieces.append((piece.points, at))
    assert pieces[1][1] == pytest.approx(pieces[0][1]), "the same places of the picture"
    assert pieces[1][0] == pytest.approx(pieces[0][0], abs=0.02)
    ring = DrawnCurve(points=((0.0, 0.0),), pieces=(CurvePiece(name="c", kind="circle", points=(0,), value=9.0),))
    badge = StampedCurve(at=(0.0, -17.0, 0.0), way="raised", depth=1.0, inputs={"curve": FromPart(part="c")})
    curve = Part(id="c", name="C", steps=(ring,))
    part = bare.with_step(badge)
    _, piece, _ = cut_out(mark, evaluator.mesh(part, (curve,)), Finish(), evaluator.load, evaluator.shelf)
    middle = np.abs(piece.points[:, 0]) < 7.5
    assert piece.points[middle, 1] == pytest.approx(-18.0, abs=0.06)
    assert piece.points[np.abs(piece.points[:, 0]) > 10, 1].min() > -17.2
