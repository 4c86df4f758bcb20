"""Details in recipes: they stay on top of what shapes, follow it and one another, and go back to the same bytes."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image

from hollow_marble.core.bodies.detailed_body import DetailedBody
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form import built as b
from hollow_marble.documents.form import details as d
from hollow_marble.documents.form import edits as e
from hollow_marble.documents.form import skin_lines as lay
from hollow_marble.documents.form import spreads as s
from hollow_marble.documents.form.built_edits import PartAlong
from hollow_marble.documents.form.changes import PlacedPoints, StoodPart
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.form.recipe import FromPart, FromStep
from hollow_marble.documents.form.starts import BoxStart, SphereStart
from hollow_marble.exchange.step import Named3D, read_file, step_of
from tests.core.grounds import is_watertight
from tests.documents.test_built import circle

BOX = BoxStart(size=(60.0, 34.0, 90.0), divisions=(2, 2, 3))


@pytest.fixture(scope="module")
def evaluator() -> FormEvaluator:
    return FormEvaluator(lambda sha: b"")


def along(index: int, **fields: Any) -> d.AlongLine:
    return d.AlongLine(inputs={"line": FromStep(index=index)}, **fields)


def begun(*steps: Any) -> Form:
    form = e.StartPart(part="a", name="A", start=BOX).applied_to(Form())
    for step in steps:
        form = e.Shape(part="a", step=step).applied_to(form)
    return form


def part_of(form: Form, ident: str = "a") -> Part:
    return next(part for part in form.parts if part.id == ident)


def mesh_of(evaluator: FormEvaluator, form: Form, ident: str = "a") -> Any:
    return evaluator.mesh(part_of(form, ident), form.parts)


GROOVED = (lay.SectionLine(at=5.0, tag="line"), along(1, tag="groove"))
PULLED = PlacedPoints(how="move", points=(0, 1, 2), values=(0.0, -6.0, 0.0), reach=0.0)


def test_what_shapes_goes_in_beneath_details_and_they_follow(evaluator: FormEvaluator) -> None:
    form = begun(*GROOVED)
    shaped = e.Shape(part="a", step=PULLED).applied_to(form)
    kinds = [step.kind for step in part_of(shaped).steps]
    assert kinds == ["box", "placed", "section_line", "along_line"]
    assert part_of(shaped).steps[3].inputs["line"] == FromStep(index=2), "what they name by number moves along"
    before, after = mesh_of(evaluator, form), mesh_of(evaluator, shaped)
    assert after.key != before.key
    assert is_watertight(after.welded()[1])
    ((_, line),) = evaluator.lines(part_of(shaped), shaped.parts)
    assert line.spots.points[:, 2] == pytest.approx(5.0, abs=1e-9)


def test_a_row_goes_along_with_its_edges_when_an_earlier_step_changes(evaluator: FormEvaluator) -> None:
    cage = evaluator.cage(part_of(begun()))
    points = cage.points
    level = [
        tuple(edge)
        for edge in cage.topology.edges.tolist()
        if np.abs(points[list(edge), 2] - points[:, 2].max()).max() < 1
    ]
    rim = [edge for edge in level if np.abs(points[list(edge)][:, :2]).max(axis=0).max() > 20]
    row = [edge for edge in rim if all(max(abs(points[p, 0]) / 29, abs(points[p, 1]) / 16) > 0.9 for p in edge)]
    form = begun(lay.RowLine(edges=tuple(row)), along(1, width=1.0, depth=0.3))
    assert is_watertight(mesh_of(evaluator, form).welded()[1])


def test_a_line_alone_leaves_the_cage_to_be_shaped(evaluator: FormEvaluator) -> None:
    form = begun(GROOVED[0])
    body = evaluator.body(part_of(form))
    assert body.control is not None
    assert body.mesh().positions is evaluator.body(part_of(begun())).mesh().positions
    grooved = evaluator.body(part_of(begun(*GROOVED)))
    assert isinstance(grooved, DetailedBody)
    assert grooved.control is None
    assert evaluator.cage(part_of(begun(*GROOVED))).face_count == body.control.face_count, "its cage is there beneath"


def test_shaping_beneath_a_part_that_was_stood_elsewhere_is_refused() -> None:
    form = begun(*GROOVED, StoodPart(move=(10.0, 0.0, 0.0)))
    with pytest.raises(HollowMarbleError, match="stood elsewhere"):
        e.Shape(part="a", step=PULLED).applied_to(form)
    assert part_of(begun(*GROOVED, StoodPart())).steps[-1].kind == "stood", "standing comes last"


def test_a_step_along_what_lays_no_line_is_refused(evaluator: FormEvaluator) -> None:
    form = begun(*GROOVED, along(2))
    with pytest.raises(HollowMarbleError, match="lays none"):
        evaluator.body(part_of(form))


def test_the_other_side_of_a_cut_follows_it(evaluator: FormEvaluator) -> None:
    """Its gap, its line and the form: what was parted off knows no numbers of its own. Two halves and the gap are the whole."""
    form = begun(lay.SectionLine(at=5.0))
    cut = d.PartedAlong(inputs={"line": FromStep(index=1)}, gap=0.4, edge="closed", tag="cut")
    form = PartAlong(part="a", other="b", name="B", step=cut).applied_to(form)
    one, other = mesh_of(evaluator, form), mesh_of(evaluator, form, "b")
    whole = mesh_of(evaluator, begun())
    area = 60.0 * 34.0  # about: its corners are round, by the cage's own limit
    gap = whole.size.volume - one.size.volume - other.size.volume
    assert 0.85 * 0.4 * area < gap < 1.2 * 0.4 * area + 0.004 * whole.size.volume
    assert is_watertight(one.welded()[1])
    assert is_watertight(other.welded()[1])
    low, high = one.extent[0][2], other.extent[1][2]
    if low < high:
        low, high = other.extent[0][2], one.extent[1][2]
    assert low - high == pytest.approx(0.4, abs=0.01)
    step = part_of(form).steps[2].model_copy(update={"gap": 2.0})
    wider = e.ChangeStep(part="a", index=2, step=step).applied_to(form)
    assert evaluator.key(part_of(wider, "b"), wider.parts) != evaluator.key(part_of(form, "b"), form.parts)
    assert mesh_of(evaluator, wider, "b").size.volume < other.size.volume - 0.7 * area


@pytest.mark.parametrize("edge", ["wall", "lip", "rolled"])
def test_a_shell_of_two_closes_and_its_lip_lies_in_its_groove(evaluator: FormEvaluator, edge: str) -> None:
    form = begun(lay.SectionLine(at=5.0))
    cut = d.PartedAlong(inputs={"line": FromStep(index=1)}, gap=0.2, edge=edge, wall=1.6, lip=1.2, tag="cut")  # type: ignore[arg-type]
    form = PartAlong(part="a", other="b", name="B", step=cut).applied_to(form)
    one, other = mesh_of(evaluator, form), mesh_of(evaluator, form, "b")
    for mesh in (one, other):
        assert mesh.closed
        assert is_watertight(mesh.welded()[1])
    import manifold3d

    solids = [manifold3d.Manifold(manifold3d.Mesh64(*_arrays(mesh))) for mesh in (one, other)]
    assert (solids[0] ^ solids[1]).volume() == pytest.approx(0.0, abs=1e-6), "they do not run into one another"
    if edge == "lip":
        reach = [(mesh.extent[0][2], mesh.extent[1][2]) for mesh in (one, other)]
        overlap = min(high for _, high in reach) - max(low for low, _ in reach)
        assert overlap == pytest.approx(1.2 - 0.1 - 0.0, abs=0.05)


def _arrays(mesh: Any) -> tuple[Any, Any]:
    points, triangles = mesh.welded()
    return points, triangles.astype(np.uint64)


def test_a_window_is_cut_out_and_given_to_another_part(evaluator: FormEvaluator) -> None:
    form = e.StartPart(part="o", name="O", start=circle(5.0, on="front")).applied_to(begun())
    cut = d.CutWithin(inputs={"curve": FromPart(part="o")}, at=(0.0, -17.0, 0.0), gap=0.3, edge="wall", tag="cut")
    form = PartAlong(part="a", other="w", name="W", step=cut).applied_to(form)
    body, window = mesh_of(evaluator, form), mesh_of(evaluator, form, "w")
    assert is_watertight(body.welded()[1])
    assert is_watertight(window.welded()[1])
    assert window.size.width == pytest.approx(2 * (5.0 - 0.15), abs=0.03)
    assert window.size.volume == pytest.approx(np.pi * 4.85**2 * 1.6, rel=0.05)


@pytest.mark.parametrize("arranged", ["rows", "rings", "rays"])
def test_a_grille_goes_through_the_wall_its_part_has(evaluator: FormEvaluator, arranged: str) -> None:
    line = lay.SectionLine(at=-30.0, tag="line")
    shell = d.PartedAlong(inputs={"line": FromStep(index=1)}, edge="lip", wall=1.4, tag="shell")
    grille = d.GrilleStep(
        at=(0.0, -17.0, 0.0), way="through", arranged=arranged, wide=16, tall=12, depth=9.0, tag="grille"
    )
    outlines = grille.outlines({}, evaluator.making("", ""))
    before, after = (mesh_of(evaluator, begun(line, shell, *more)) for more in ((), (grille,)))
    _, triangles = after.welded()
    assert is_watertight(triangles)
    edges = np.sort(triangles[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
    euler = len(np.unique(triangles)) - len(np.unique(edges, axis=0)) + len(triangles)
    # each opening is a handle on the shell, which is a sphere turned in on itself (Euler and Poincaré)
    assert euler == 2 - 2 * len(outlines.loops)
    # the box is nearly flat there: what is lost is the openings' area times the wall
    area = sum(abs(np.linalg.det(np.stack([loop, np.roll(loop, -1, axis=0)], 1)).sum()) / 2 for loop in outlines.loops)
    assert before.size.volume - after.size.volume == pytest.approx(area * 1.4, rel=0.03)


def test_what_has_no_room_is_refused_in_a_sentence(evaluator: FormEvaluator) -> None:
    wrong: list[tuple[Any, str]] = [
        (along(1, depth=40.0, lean=0.0), "mm thick"),
        (along(1, width=0.1), "too narrow"),
        (d.GrilleStep(at=(0, -17, 0), opening=30.0), "No opening"),
        (d.LetteringStep(at=(0, -17, 0), tall=80.0), "Up to"),
        (d.Knurled(inputs={"line": FromStep(index=1)}, count=2000), "fit"),
        (d.PartedAlong(inputs={"line": FromStep(index=1)}, wall=20.0, tag="x"), "has no room"),
        (lay.OffsetLine(inputs={"line": FromStep(index=1)}, by=500.0), "to that side"),
    ]
    shell = d.PartedAlong(inputs={"line": FromStep(index=1)}, wall=1.2, tag="s")
    deep = "A detail is 1.3 mm deep, and the wall of the part is 1.2 mm. Up to 1.15 mm deep fit, or a wall of 1.35 mm"
    deeper = [((shell, along(1, depth=1.3)), deep), ((along(1, depth=1.3), shell), deep)]
    closed = d.PartedAlong(inputs={"line": FromStep(index=1)}, edge="closed", tag="c")
    deeper += [((step, step), "is cut along this line already") for step in (shell, closed)]
    for steps, said in [*(((step,), said) for step, said in wrong), *deeper]:
        form = begun(GROOVED[0], *steps)
        with pytest.raises(HollowMarbleError, match=said):
            mesh_of(evaluator, form)


def test_exact_faces_leave_details_out_and_say_so(evaluator: FormEvaluator) -> None:
    form = begun(*GROOVED)
    solid = evaluator.body(part_of(form)).exact(evaluator.kernel)
    assert any("not part of its exact faces" in told for told in solid.told)
    form = e.StartPart(part="s", name="S", start=b.MadeExact(name="A", inputs={"of": FromPart(part="a")})).applied_to(
        form
    )
    assert evaluator.body(part_of(form, "s"), form.parts).exact(evaluator.kernel).volume == pytest.approx(solid.volume)


STEPS = st.sampled_from(
    [
        lay.SectionLine(at=5.0), lay.SectionLine(axis="W", at=3.0), lay.OffsetLine(by=3.0, inputs={"line": FromStep(index=1)}),
        along(1), along(1, section="bead", width=2.0), along(2, section="step", width=1.5, depth=0.3),
        d.GrilleStep(at=(0, -17, 20), wide=12, tall=8), d.GrilleStep(at=(0, -17, 20), wide=12, tall=8, way="through"),
        d.LetteringStep(at=(0, -17, -20), tall=4),
        d.Knurled(inputs={"line": FromStep(index=1)}, count=80), PULLED,
        PlacedPoints(how="size", points=(0, 1, 2, 3), values=(0.9, 0.9, 0.9), reach=0.0),
        d.PartedAlong(inputs={"line": FromStep(index=1)}, edge="closed", tag="cut"),
    ]
)  # fmt: skip


@settings(max_examples=12, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(STEPS, max_size=5))
def test_any_row_of_details_and_changes_works_out_or_is_refused_and_goes_back_to_the_same_bytes(
    evaluator: FormEvaluator, steps: list[Any]
) -> None:
    """Property: never anything but a sentence, closed wherever it works out, and undo is the state before."""
    form = begun(lay.SectionLine(at=8.0))
    for step in steps:
        before, shown = form, mesh_of(evaluator, form)
        try:
            after = e.Shape(part="a", step=step).applied_to(form)
            mesh = mesh_of(evaluator, after)
        except HollowMarbleError:
            assert np.array_equal(mesh_of(evaluator, before).positions, shown.positions)
            continue
        assert is_watertight(mesh.welded()[1])
        assert np.isfinite(mesh.positions).all()
        again = FormEvaluator(evaluator.load).mesh(part_of(before), before.parts)
        assert again.positions.tobytes() == shown.positions.tobytes()
        form = after


def many(form: Form, ident: str, start: Any) -> Form:
    return e.StartPart(part=ident, name=ident.title(), start=start).applied_to(form)


def of(**parts: Any) -> dict[str, FromPart]:
    return {name: part if isinstance(part, FromPart) else FromPart(part=part) for name, part in parts.items()}


def test_what_is_spread_follows_its_element_its_skin_and_its_picture(evaluator: FormEvaluator) -> None:
    form = many(begun(), "stud", BoxStart(size=(1.0, 1.0, 1.0), divisions=(1, 1, 1)))
    spread = s.Spread(
        arranged="square", apart=3.0, at=(0, -17, 0), wide=12.0, tall=9.0, inputs=of(element="stud", on="a")
    )
    form = many(form, "studs", spread)
    body = evaluator.body(part_of(form, "studs"), form.parts)
    one, matrices = body.copies() or (None, None)
    assert len(matrices) == 5 * 4
    assert one is evaluator.mesh(part_of(form, "stud"))
    taller = e.ChangeStep(part="stud", index=0, step=BoxStart(size=(1.0, 1.0, 4.0), divisions=(1, 1, 1))).applied_to(
        form
    )
    assert mesh_of(evaluator, taller, "studs").size.volume > 2 * mesh_of(evaluator, form, "studs").size.volume
    pulled = e.Shape(part="a", step=PULLED).applied_to(form)
    assert evaluator.key(part_of(pulled, "studs"), pulled.parts) != evaluator.key(part_of(form, "studs"), form.parts)


def test_grey_drives_size_and_presence() -> None:
    """Left half black, right half white: only the right is there, and each is as large as bright says."""
    picture = np.zeros((40, 80, 3), np.uint8)
    picture[:, 40:] = 255
    file = io.BytesIO()
    Image.fromarray(picture).save(file, "PNG")
    evaluator = FormEvaluator(lambda sha: file.getvalue())
    form = many(begun(), "stud", BoxStart(size=(1.0, 1.0, 1.0), divisions=(1, 1, 1)))
    spread = s.Spread(
        arranged="staggered", apart=2.0, at=(0, -17, 0), wide=16.0, picture="0" * 64, size=(0.5, 1.5), least=0.5,
        inputs=of(element="stud", on="a"),
    )  # fmt: skip
    body = evaluator.body(part_of(many(form, "studs", spread), "studs"), many(form, "studs", spread).parts)
    _, matrices = body.copies() or (None, None)
    assert matrices is not None
    assert (matrices[:, 0, 3] > -0.3).all(), "seen from the front the right of the picture is the right"
    assert np.linalg.norm(matrices[:, :, 0], axis=1).max() == pytest.approx(1.5, abs=0.01)
    dark = spread.model_copy(update={"least": 1.0, "size": (1.0, 1.0), "wide": 1.0, "apart": 40.0})
    form = many(form, "none", dark)
    with pytest.raises(HollowMarbleError, match="Nothing is left"):
        evaluator.body(part_of(form, "none"), form.parts)


def test_repeats_stand_where_their_numbers_say_and_can_be_made_real(evaluator: FormEvaluator) -> None:
    form = many(Form(), "pin", BoxStart(size=(2.0, 2.0, 6.0), divisions=(1, 1, 1)))
    ways: dict[str, tuple[dict[str, Any], int, tuple[float, float, float]]] = {
        "straight": ({"count": 4, "step": (5.0, 0.0, 0.0)}, 4, (17.0, 2.0, 6.0)),
        "grid": ({"count": 3, "rows": 2, "step": (5.0, 0, 0), "across": (0.0, 4.0, 0.0)}, 6, (12.0, 6.0, 6.0)),
        "round": ({"count": 4, "at": (10.0, 0.0, 0.0)}, 4, (22.0, 22.0, 6.0)),
        "mirrored": ({"axis": "W", "at": (5.0, 0, 0)}, 2, (12.0, 2.0, 6.0)),
    }
    for way, (numbers, count, size) in ways.items():
        made = many(form, way, s.Repeated(way=way, inputs=of(element="pin"), **numbers))  # type: ignore[arg-type]
        body = evaluator.body(part_of(made, way), made.parts)
        assert len((body.copies() or (0, ()))[1]) == count
        found = body.mesh().size
        assert (found.width, found.depth, found.height) == pytest.approx(size, abs=1e-3)
        real = e.Shape(part=way, step=s.MadeReal()).applied_to(made)
        assert mesh_of(evaluator, real, way).size.volume == pytest.approx(found.volume, rel=1e-5)
        assert evaluator.body(part_of(real, way), real.parts).copies() is None
    with pytest.raises(HollowMarbleError, match="one thing already"):
        evaluator.body(part_of(e.Shape(part="pin", step=s.MadeReal()).applied_to(form), "pin"))


def test_stitches_and_rivets_follow_a_line_on_another_part(evaluator: FormEvaluator) -> None:
    form = many(begun(GROOVED[0], along(1, tag="groove")), "pin", BoxStart(size=(1.0, 1.0, 2.0), divisions=(1, 1, 1)))
    line = FromPart(part="a", at="line")
    form = many(form, "seam", s.Stitched(inputs={"line": line}, irregular=0.0))
    form = many(form, "pins", s.Repeated(way="line", count=24, inputs=of(element="pin", line=line)))
    stitches, pins = (evaluator.body(part_of(form, ident), form.parts).copies() for ident in ("seam", "pins"))
    assert stitches is not None
    assert pins is not None
    assert stitches[1][:, 2, 3] == pytest.approx(5.0, abs=1e-3)
    assert len(pins[1]) == 24
    moved = e.ChangeStep(part="a", index=1, step=lay.SectionLine(at=12.0, tag="line")).applied_to(form)
    again = evaluator.body(part_of(moved, "seam"), moved.parts).copies()
    assert again is not None
    assert again[1][:, 2, 3] == pytest.approx(12.0, abs=1e-3)
    gone = e.DropStep(part="a", index=2).applied_to(form)
    gone = e.DropStep(part="a", index=1).applied_to(gone)
    assert "was taken out" in str(evaluator.problem(part_of(gone, "seam"), gone.parts))


def test_where_two_parts_meet_is_a_line_on_the_skin_that_follows_both(evaluator: FormEvaluator) -> None:
    """A ball of 12 mm whose middle lies on the flat front meets it in a circle of 12 mm (formula)."""
    ball = SphereStart(size=(24.0, 24.0, 24.0), divisions=4)
    form = many(begun(), "ball", ball)
    form = e.Shape(part="ball", step=StoodPart(move=(0.0, -17.0, 0.0))).applied_to(form)
    form = e.Shape(part="a", step=lay.MeetingLine(inputs=of(other="ball"))).applied_to(form)
    ((_, line),) = evaluator.lines(part_of(form), form.parts)
    points = line.spots.points
    assert line.closed
    assert np.hypot(points[:, 0], points[:, 2]) == pytest.approx(12.0, abs=0.12)
    assert points[:, 1] == pytest.approx(-16.9, abs=0.15), "the front sags a little, by its cage"
    moved = e.ChangeStep(part="ball", index=1, step=StoodPart(move=(5.0, -17.0, 0.0))).applied_to(form)
    ((_, line),) = evaluator.lines(part_of(moved), moved.parts)
    assert (line.spots.points[:, 0].min() + line.spots.points[:, 0].max()) / 2 == pytest.approx(5.0, abs=0.1)
    away = e.ChangeStep(part="ball", index=1, step=StoodPart(move=(0.0, -80.0, 0.0))).applied_to(form)
    with pytest.raises(HollowMarbleError, match="do not meet"):
        evaluator.body(part_of(away), away.parts)


def test_lines_go_along_as_curves_in_step(evaluator: FormEvaluator) -> None:
    """A file with a line has one B-spline curve more among its products; read in again the part is the same."""
    form = begun(*GROOVED)
    body = evaluator.body(part_of(form))
    lines = tuple(line.spots.points[line.ring] for _, line in evaluator.lines(part_of(form)))
    data = step_of([Named3D("Body", None, body.exact(evaluator.kernel), lines)], "Body")
    assert b"Body, line 1" in data
    ((part, _),) = read_file(data, "step", "Body", False)
    assert part.solid.volume == pytest.approx(body.exact(evaluator.kernel).volume, rel=1e-4)


def test_details_of_a_built_solid_lie_on_its_exact_faces(evaluator: FormEvaluator) -> None:
    """A rod of 23 mm: its mesh is of chords, a line round it and what is beside its groove lie at 11.5 mm (formula)."""
    form = many(Form(), "c", circle(11.5))
    form = many(form, "rod", b.ExtrudedProfile(distance=8.0, inputs=of(profile="c")))
    form = e.Shape(part="rod", step=lay.SectionLine(at=4.0)).applied_to(form)
    ((_, line),) = evaluator.lines(part_of(form, "rod"), form.parts)
    assert np.hypot(*line.spots.points[:, :2].T) == pytest.approx(11.5, abs=1e-7)
    assert line.spots.points[:, 2] == pytest.approx(4.0, abs=1e-6)
    form = e.Shape(part="rod", step=along(1, width=1.0, depth=0.3)).applied_to(form)
    mesh = mesh_of(evaluator, form, "rod")
    assert is_watertight(mesh.welded()[1])
    points = mesh.positions.astype(float)
    beside = (np.abs(points[:, 2] - 4.0) > 0.6) & (np.abs(points[:, 2] - 4.0) < 2.0)
    assert beside.sum() > 50
    assert np.hypot(*points[beside, :2].T) == pytest.approx(11.5, abs=1e-5)
    floor = np.abs(points[:, 2] - 4.0) < 0.1
    assert np.hypot(*points[floor, :2].T) == pytest.approx(11.2, abs=1e-3)


@pytest.mark.parametrize(
    ("how", "axis", "sign"),
    [("front", 1, -1), ("back", 1, 1), ("left", 0, -1), ("right", 0, 1), ("top", 2, 1), ("bottom", 2, -1)],
)
def test_a_line_of_a_sheet_comes_from_any_side(evaluator: FormEvaluator, how: Any, axis: int, sign: int) -> None:
    """Drawn aslant in a view, it lies where it was drawn but for the one coordinate along which it came, and that is the side's."""
    t = np.linspace(-1, 1, 30)
    drawn = np.stack([8 * t, 5 * t, 12 * t], axis=1)
    way = np.array([0.3, 1.0, -0.2])
    starts, ways = (tuple(map(tuple, rows.tolist())) for rows in (drawn - 500 * way, np.tile(way, (30, 1))))
    step = lay.SheetLine(reference="r", stroke="s", how=how, starts=starts, ways=ways)
    form = begun(step)
    ((_, line),) = evaluator.lines(part_of(form), form.parts)
    points = line.spots.points
    assert (points[:, axis] * sign > 0).all()
    assert (line.spots.normals[:, axis] * sign > 0.5).all()
    middle = (np.zeros(3) - (drawn - 500 * way)) @ way / (way @ way)  # along each ray, beside the middle of the part
    expected = drawn - 500 * way + middle[:, None] * way
    others = [k for k in range(3) if k != axis]
    assert np.abs(points[[0, -1]][:, others] - expected[[0, -1]][:, others]).max() < 0.02
    assert step.sentence().endswith(f"from the {how}")


def test_edges_are_drawn_beside_a_groove_and_not_among_teeth(evaluator: FormEvaluator) -> None:
    """The borders of a groove run along it; those of a knurl run in and out of its teeth, and would be seen as dots."""
    form = many(Form(), "c", circle(11.5))
    form = many(form, "rod", b.ExtrudedProfile(distance=8.0, inputs=of(profile="c")))
    form = e.Shape(part="rod", step=lay.SectionLine(at=4.0)).applied_to(form)

    def drawn(step: Any) -> np.ndarray:
        mesh = mesh_of(evaluator, e.Shape(part="rod", step=step).applied_to(form), "rod")
        ends = mesh.positions[mesh.edges.ravel(), 2]
        return np.unique(np.round(ends[(ends > 0.1) & (ends < 7.9)], 1))

    assert drawn(along(1, width=1.0, depth=0.3)).tolist() == pytest.approx([3.4, 4.6], abs=0.21)
    assert not len(drawn(d.Knurled(inputs={"line": FromStep(index=1)}, count=60, width=3.0)))
