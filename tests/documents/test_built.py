"""Curves and solids in recipes: one profile feeds several, numbers change at any time, names hold, what does not fit is refused."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from hollow_marble.core.bodies.cage_body import CageBody
from hollow_marble.core.bodies.still_body import still_to_bytes
from hollow_marble.core.curves.chains import outline
from hollow_marble.core.curves.drawing import Chain
from hollow_marble.core.curves.segments import curvature
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.solids.solid import here
from hollow_marble.core.surface.continuity import seams
from hollow_marble.core.surface.findings import Limits, check_part
from hollow_marble.documents.form import built as b
from hollow_marble.documents.form import edits as e
from hollow_marble.documents.form.changes import ExtrudedFaces, StoodPart
from hollow_marble.documents.form.curves import (
    CornerRound,
    CurveHold,
    CurvePiece,
    CurvePlane,
    DrawnCurve,
    JoinedCurves,
    MirroredCurve,
    OffsetCurve,
)
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.form.recipe import FromPart, FromStep
from hollow_marble.documents.form.starts import BoxStart, StillStart


@pytest.fixture
def evaluator() -> FormEvaluator:
    return FormEvaluator(lambda sha: b"")


def of(part: str, name: str = "profile") -> dict[str, Any]:
    return {name: FromPart(part=part)}


def rectangle(wide: float, high: float, on: str = "top", rounds: float = 0.0, **fields: Any) -> DrawnCurve:
    pieces = tuple(CurvePiece(name=f"l{k}", kind="line", points=(k, (k + 1) % 4)) for k in range(4))
    corners = tuple(CornerRound(point=k, radius=rounds) for k in range(4)) if rounds else ()
    points = ((0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high))
    return DrawnCurve(plane=CurvePlane(on=on), points=points, pieces=pieces, rounds=corners, **fields)  # type: ignore[arg-type]


def circle(radius: float, at: tuple[float, float] = (0.0, 0.0), on: str = "top") -> DrawnCurve:
    piece = CurvePiece(name="c", kind="circle", points=(0,), value=radius)
    return DrawnCurve(plane=CurvePlane(on=on), points=(at,), pieces=(piece,))  # type: ignore[arg-type]


def begun(form: Form, part: str, start: Any, name: str = "") -> Form:
    return e.StartPart(part=part, name=name or part.title(), start=start).applied_to(form)


def plate() -> Form:
    form = begun(Form(), "profile", rectangle(40, 30))
    return begun(form, "plate", b.ExtrudedProfile(distance=20, inputs=of("profile"), tag="up"))


def volume(evaluator: FormEvaluator, form: Form, part: str) -> float:
    found = next(one for one in form.parts if one.id == part)
    body = evaluator.body(found, form.parts)
    volume: float = body.exact(evaluator.kernel).volume
    return volume


def amended(form: Form, part: str, index: int, **fields: Any) -> Form:
    step = next(one for one in form.parts if one.id == part).steps[index].model_copy(update=fields)
    return e.ChangeStep(part=part, index=index, step=step).applied_to(form)


def test_one_profile_feeds_several_parts_and_all_follow_it(evaluator: FormEvaluator) -> None:
    form = begun(plate(), "low", b.ExtrudedProfile(distance=5, inputs=of("profile"), tag="low"))
    assert volume(evaluator, form, "plate") == pytest.approx(24_000)
    assert volume(evaluator, form, "low") == pytest.approx(6_000)
    wider = amended(form, "profile", 0, points=((0.0, 0.0), (50.0, 0.0), (50.0, 30.0), (0.0, 30.0)))
    assert volume(evaluator, wider, "plate") == pytest.approx(30_000)
    assert volume(evaluator, wider, "low") == pytest.approx(7_500)
    keys = [evaluator.key(part, form.parts) for part in form.parts]
    assert [key == evaluator.key(part, wider.parts) for key, part in zip(keys, wider.parts)] == [False, False, False]


def test_only_what_changed_is_worked_out_again() -> None:
    asked: list[str] = []

    def kernel(name: str, *arguments: Any) -> Any:
        asked.append(name)
        return here(name, *arguments)

    evaluator = FormEvaluator(lambda sha: b"", kernel=kernel)
    form = begun(plate(), "low", b.ExtrudedProfile(distance=5, inputs=of("profile"), tag="low"))
    form = e.Shape(part="plate", step=b.Hollowed(wall=2, tag="h")).applied_to(form)
    for part in form.parts:
        evaluator.body(part, form.parts)
    assert asked == ["extruded", "hollowed", "extruded"]
    thicker = amended(form, "plate", 1, wall=3.0)
    for part in thicker.parts:
        evaluator.body(part, thicker.parts)
    assert asked[3:] == ["hollowed"], "the number of a later step leaves the earlier ones as they are"
    bored = e.Shape(part="plate", step=b.PipedPath(radius=3, how="cut away", inputs=of("line", "path"), tag="p"))
    thin = begun(
        thicker,
        "line",
        DrawnCurve(points=((20.0, -5.0), (20.0, 30.0)), pieces=(CurvePiece(name="l", kind="line", points=(0, 1)),)),
    )
    evaluator.body(bored.applied_to(thin).parts[1], bored.applied_to(thin).parts)
    assert asked[4:] == ["piped", "combined"]
    again = amended(bored.applied_to(thin), "plate", 1, wall=4.0)
    evaluator.body(again.parts[1], again.parts)
    assert asked[6:] == ["hollowed", "combined"], "a pipe stays what it is, whatever it is cut into"


def test_a_recipe_survives_its_document(evaluator: FormEvaluator) -> None:
    form = e.Shape(part="plate", step=b.Hollowed(wall=2, open=("up.end",), tag="h")).applied_to(plate())
    form = e.Shape(part="plate", step=StoodPart(move=(5, 0, 0), turn=(0, 0, 30))).applied_to(form)
    again = Form.model_validate_json(form.model_dump_json())
    assert again == form
    one, other = (evaluator.mesh(one.parts[1], one.parts) for one in (form, again))
    assert one.positions.tobytes() == other.positions.tobytes()
    assert one.face_keys.tobytes() == other.face_keys.tobytes()
    fresh = FormEvaluator(lambda sha: b"").mesh(again.parts[1], again.parts)
    assert fresh.positions.tobytes() == one.positions.tobytes(), "worked out anew it is the same to the byte"


def test_moving_does_not_cut_a_part_from_what_made_it(evaluator: FormEvaluator) -> None:
    form = e.Shape(part="plate", step=StoodPart(move=(100, 0, 0))).applied_to(plate())
    form = amended(form, "profile", 0, points=((0.0, 0.0), (10.0, 0.0), (10.0, 30.0), (0.0, 30.0)))
    mesh = evaluator.mesh(form.parts[1], form.parts)
    assert mesh.positions[:, 0].min() == pytest.approx(100)
    assert mesh.positions[:, 0].max() == pytest.approx(110)


def test_a_rounding_stays_on_its_edge_when_the_profile_below_it_changes(evaluator: FormEvaluator) -> None:
    edge = b.PickedEdge(faces=("up.l0", "up.l1"), middle=(40, 0, 10), length=20)
    form = e.Shape(part="plate", step=b.RoundedEdges(edges=(edge,), radius=4, tag="r")).applied_to(plate())
    lost = (1 - np.pi / 4) * 16 * 20
    assert volume(evaluator, form, "plate") == pytest.approx(24_000 - lost)
    other = amended(form, "profile", 0, points=((0.0, 0.0), (60.0, 0.0), (60.0, 10.0), (0.0, 10.0)))
    assert volume(evaluator, other, "plate") == pytest.approx(12_000 - lost)
    drawn_anew = (CurvePiece(name="new", kind="line", points=(0, 1)), *rectangle(40, 30).pieces[1:])
    gone = amended(form, "profile", 0, pieces=drawn_anew)
    with pytest.raises(HollowMarbleError, match="no longer there"):
        volume(evaluator, gone, "plate")


def test_dimensions_typed_later_are_kept(evaluator: FormEvaluator) -> None:
    holds = (
        CurveHold(kind="fixed", points=(0,)), CurveHold(kind="level", pieces=("l0",)), CurveHold(kind="upright", pieces=("l1",)),
        CurveHold(kind="parallel", pieces=("l0", "l2")), CurveHold(kind="parallel", pieces=("l1", "l3")),
        CurveHold(kind="length", pieces=("l0",), value=40), CurveHold(kind="length", pieces=("l1",), value=30),
    )  # fmt: skip
    form = begun(Form(), "profile", rectangle(41, 29, holds=holds))
    form = begun(form, "plate", b.ExtrudedProfile(distance=20, inputs=of("profile"), tag="up"))
    assert volume(evaluator, form, "plate") == pytest.approx(24_000)
    longer = (*holds[:5], CurveHold(kind="length", pieces=("l0",), value=80), holds[6])
    assert volume(evaluator, amended(form, "profile", 0, holds=longer), "plate") == pytest.approx(48_000)


@pytest.mark.parametrize(("radius", "tube"), [(10.0, 3.0), (14.0, 2.0)])
def test_both_radii_of_a_ring_change_at_any_time_however_it_was_made(
    evaluator: FormEvaluator, radius: float, tube: float
) -> None:
    form = begun(begun(Form(), "path", circle(10.0)), "section", circle(3.0, on="front"))
    form = begun(form, "piped", b.PipedPath(radius=3, inputs=of("path", "path"), tag="p"))
    form = begun(form, "swept", b.SweptProfile(inputs={**of("section"), **of("path", "path")}, tag="s"))
    for part in ("piped", "swept"):
        form = e.Shape(part=part, step=StoodPart(move=(0, 50, 0), turn=(90, 0, 0))).applied_to(form)
    form = amended(form, "path", 0, pieces=circle(radius).pieces)
    form = amended(form, "section", 0, pieces=circle(tube).pieces)
    form = amended(form, "piped", 0, radius=tube)
    for part in ("piped", "swept"):
        assert volume(evaluator, form, part) == pytest.approx(2 * np.pi**2 * radius * tube**2, rel=1e-9)


def test_a_cage_takes_part_and_is_still_shaped_below(evaluator: FormEvaluator) -> None:
    form = begun(Form(), "body", BoxStart(size=(60, 40, 80), divisions=(3, 2, 4)))
    whole = evaluator.mesh(form.parts[0], form.parts).size.volume
    assert volume(evaluator, form, "body") == pytest.approx(whole, rel=0.01)
    form = begun(form, "hole", circle(8, on="front"))
    cut = b.ExtrudedProfile(distance=100, back=100, how="cut away", blend=1, inputs=of("hole"), tag="cut")
    form = e.Shape(part="body", step=cut).applied_to(form)
    before = volume(evaluator, form, "body")
    assert before < whole - np.pi * 64 * 30
    late = e.Shape(part="body", step=ExtrudedFaces(faces=(0,), distance=1)).applied_to(form)
    with pytest.raises(HollowMarbleError, match="built form"):
        evaluator.body(late.parts[0], late.parts)
    larger = amended(form, "body", 0, size=(80.0, 40.0, 80.0))
    assert volume(evaluator, larger, "body") > before * 1.2


def test_parts_are_combined_and_parted_off_in_one_edit(evaluator: FormEvaluator) -> None:
    form = begun(
        begun(plate(), "ring", circle(8, (20.0, 15.0))),
        "pin",
        b.ExtrudedProfile(distance=40, inputs=of("ring"), tag="pin"),
    )
    joined = e.CombineParts(part="plate", other="pin", step=b.Combined(how="join", blend=2, tag="j")).applied_to(form)
    assert not next(part for part in joined.parts if part.id == "pin").visible
    assert joined.parts[1].steps[-1].sentence() == "Joined Pin, the seam rounded by 2 mm"
    assert volume(evaluator, joined, "plate") > 24_000 + np.pi * 64 * 20
    halves = e.PartOff(
        part="plate", other="low", name="Low", step=b.SplitSolid(axis="H", at=10, gap=1, tag="s")
    ).applied_to(form)
    assert volume(evaluator, halves, "plate") == pytest.approx(40 * 30 * 9.5)
    assert volume(evaluator, halves, "low") == pytest.approx(40 * 30 * 9.5)
    circular = e.CombineParts(part="pin", other="plate", step=b.Combined(tag="k")).applied_to(joined)
    pin = next(part for part in circular.parts if part.id == "pin")
    with pytest.raises(HollowMarbleError, match="made from each other"):
        evaluator.body(pin, circular.parts)


def test_a_still_body_takes_part_by_its_mesh() -> None:
    corners = np.array([[x, y, z] for x in (10.0, 60) for y in (5.0, 25) for z in (5.0, 15)])
    faces = [
        (0, 1, 3),
        (0, 3, 2),
        (4, 6, 7),
        (4, 7, 5),
        (0, 4, 5),
        (0, 5, 1),
        (2, 3, 7),
        (2, 7, 6),
        (0, 2, 6),
        (0, 6, 4),
        (1, 5, 7),
        (1, 7, 3),
    ]
    data = still_to_bytes(corners, np.array(faces))
    evaluator = FormEvaluator({"still": data}.__getitem__)
    form = begun(plate(), "block", StillStart(mesh="still", name="block", triangles=12))
    form = e.CombineParts(part="plate", other="block", step=b.Combined(how="cut away", tag="c")).applied_to(form)
    body = evaluator.body(form.parts[1], form.parts)
    assert body.mesh().size.volume == pytest.approx(24_000 - 30 * 20 * 10)
    blended = e.CombineParts(part="plate", other="block", step=b.Combined(how="join", blend=2, tag="c")).applied_to(
        form
    )
    with pytest.raises(HollowMarbleError, match="no exact"):
        evaluator.body(blended.parts[1], blended.parts)


def test_curves_are_changed_as_a_whole(evaluator: FormEvaluator) -> None:
    form = e.Shape(part="profile", step=OffsetCurve(distance=-3)).applied_to(plate())
    assert volume(evaluator, form, "plate") == pytest.approx((1200 + 140 * 3 + np.pi * 9) * 20)
    half = begun(Form(), "half", DrawnCurve(
        plane=CurvePlane(on="top"), points=((0.0, 0.0), (20.0, 0.0), (20.0, 30.0), (0.0, 30.0)),
        pieces=tuple(CurvePiece(name=f"l{k}", kind="line", points=(k, k + 1)) for k in range(3)),
    ))  # fmt: skip
    half = e.Shape(part="half", step=MirroredCurve()).applied_to(half)
    half = begun(half, "whole", b.ExtrudedProfile(distance=10, inputs=of("half"), tag="w"))
    assert volume(evaluator, half, "whole") == pytest.approx(40 * 30 * 10)


def test_a_curve_stands_on_a_face_and_follows_it(evaluator: FormEvaluator) -> None:
    boss = circle(5).model_copy(update={"plane": CurvePlane(face="up.end"), "inputs": of("plate", "on")})
    form = begun(plate(), "boss", boss)
    form = begun(form, "pin", b.ExtrudedProfile(distance=6, inputs=of("boss"), tag="pin"))
    mesh = evaluator.mesh(form.parts[-1], form.parts)
    assert mesh.positions[:, 2].min() == pytest.approx(20)
    assert mesh.positions[:, :2].mean(axis=0) == pytest.approx([20, 15], abs=0.1)
    taller = amended(form, "plate", 0, distance=33.0)
    assert evaluator.mesh(taller.parts[-1], taller.parts).positions[:, 2].max() == pytest.approx(39)


def test_taking_a_step_out_keeps_names_and_refuses_what_others_need(evaluator: FormEvaluator) -> None:
    edge = b.PickedEdge(faces=("up.l0", "up.l1"), middle=(40, 0, 10), length=20)
    form = e.Shape(part="plate", step=StoodPart(move=(0, 0, 0))).applied_to(plate())
    form = e.Shape(part="plate", step=b.RoundedEdges(edges=(edge,), radius=4, tag="r")).applied_to(form)
    less = e.DropStep(part="plate", index=1).applied_to(form)
    assert volume(evaluator, less, "plate") == pytest.approx(24_000 - (1 - np.pi / 4) * 16 * 20)
    with pytest.raises(HollowMarbleError, match="Plate is made with Profile"):
        e.RemovePart(part="profile").applied_to(form)


@pytest.mark.parametrize(
    ("start", "words"),
    [
        (
            lambda: rectangle(40, 30).model_copy(update={"points": ((0, 0), (40, 0), (0, 30), (40, 30))}),
            "crosses itself",
        ),
        (lambda: rectangle(40, 30).model_copy(update={"pieces": rectangle(40, 30).pieces[:3]}), "open"),
        (lambda: rectangle(40, 30, rounds=18.0), "no room"),
    ],
    ids=["crosses itself", "open with a taper", "corner too round"],
)
def test_what_cannot_be_built_is_refused_in_a_sentence(evaluator: FormEvaluator, start: Any, words: str) -> None:
    form = begun(Form(), "profile", start())
    form = begun(form, "plate", b.ExtrudedProfile(distance=20, taper=3, inputs=of("profile"), tag="up"))
    with pytest.raises(HollowMarbleError, match=words):
        evaluator.body(form.parts[1], form.parts)
    wrong = begun(plate(), "odd", b.PipedPath(radius=2, inputs=of("plate", "path"), tag="o"))
    with pytest.raises(HollowMarbleError, match="follows a curve"):
        evaluator.body(wrong.parts[-1], wrong.parts)


def test_edges_are_seams_that_surface_can_judge(evaluator: FormEvaluator) -> None:
    """A box's twelve edges are kinks of 90°; where one is rounded, its two seams are smooth and jump in curvature."""
    form = plate()
    box = seams(evaluator.body(form.parts[1], form.parts).probed())
    assert len(box) == 12
    assert [seam.angle.most for seam in box] == pytest.approx([90] * 12)
    edge = b.PickedEdge(faces=("up.l0", "up.l1"), middle=(40, 0, 10), length=20)
    form = e.Shape(part="plate", step=b.RoundedEdges(edges=(edge,), radius=4, tag="r")).applied_to(form)
    smooth = [seam for seam in seams(evaluator.body(form.parts[1], form.parts).probed()) if seam.angle.most < 1]
    assert len(smooth) == 2
    assert max(seam.angle.most for seam in smooth) < 1e-3
    assert min(seam.jump.most for seam in smooth) > 0.9, "from 1/4 mm to flat"
    # what is built with edges is not told to have kinks; what jumps along its roundings is told once
    told = check_part(evaluator.body(form.parts[1], form.parts).probed(), Limits()).findings
    assert [finding.kind for finding in told] == ["jump"]
    assert "2 edges of roundings" in told[0].sentence


def test_two_hands_may_shape_a_solid_at_once(evaluator: FormEvaluator) -> None:
    """What is picked by name means the same in a recipe that has grown meanwhile; what is picked by number is asked."""
    edge = b.PickedEdge(faces=("up.l0", "up.l1"), middle=(40, 0, 10), length=20)
    seen = plate()
    met = e.Shape(part="plate", step=b.Hollowed(wall=2, tag="h")).applied_to(seen)
    rounding = e.Shape(part="plate", step=b.RoundedEdges(edges=(edge,), radius=1, tag="r"))
    assert e.still_meant(rounding, seen, met, evaluator)


def test_a_closer_look_shows_finer_triangles_of_the_faces_asked_for(evaluator: FormEvaluator) -> None:
    form = begun(Form(), "round", circle(20.0, on="front"))
    form = begun(form, "ball", b.TurnedProfile(inputs=of("round"), tag="b"))
    body = evaluator.body(form.parts[1], form.parts)
    positions, normals, triangles = body.finer(5, np.array([1]))
    assert len(triangles) > 2 * (body.mesh().triangle_patch == 1).sum()
    assert triangles.max() == len(positions) - 1
    assert np.abs(positions / 20 - normals[:, :3] / 32767).max() < 1e-3, "of a ball normals are places"
    with pytest.raises(HollowMarbleError, match="other faces"):
        body.finer(5, np.array([9]))


def test_curves_are_never_seen_where_parts_are() -> None:
    evaluator = FormEvaluator(lambda sha: b"")
    form = plate()
    assert [part.name for part, _ in evaluator.shown(form)] == ["Plate"]
    assert evaluator.size(form).width == pytest.approx(40)
    assert evaluator.mesh(form.parts[0], form.parts).edges.shape[1] == 2


def test_a_rib_is_trimmed_to_what_was_there_before_it_was_hollowed(evaluator: FormEvaluator) -> None:
    """A plate 3 mm thick, drawn over all bounds, fills 3 × 26 × 18 mm of the room inside; its names stay when the wall changes."""
    form = e.Shape(part="plate", step=b.Hollowed(wall=2, open=("up.end",), tag="h")).applied_to(plate())
    shell = volume(evaluator, form, "plate")
    assert shell == pytest.approx(24_000 - 36 * 26 * 18)
    across = rectangle(3, 60)
    across = across.model_copy(update={"plane": CurvePlane(on="top", origin=(18, -10, 0))})
    form = begun(form, "line", across)
    rib = b.ExtrudedProfile(distance=50, back=5, inputs={**of("line"), "within": FromStep(index=0)}, tag="rib")
    form = e.Shape(part="plate", step=rib).applied_to(form)
    assert volume(evaluator, form, "plate") == pytest.approx(shell + 3 * 26 * 18)
    late = rib.model_copy(update={"inputs": {**of("line"), "within": FromStep(index=7)}})
    with pytest.raises(HollowMarbleError, match="only what steps before it made"):
        evaluator.body(e.Shape(part="plate", step=late).applied_to(form).parts[1], form.parts)
    thin = amended(form, "plate", 1, wall=1.0)
    assert volume(evaluator, thin, "plate") == pytest.approx(24_000 - 38 * 28 * 19 + 3 * 28 * 19)


def test_a_part_is_parted_along_a_curve_and_along_a_surface(evaluator: FormEvaluator) -> None:
    wave = DrawnCurve(
        plane=CurvePlane(on="front"),
        points=((-5.0, 8.0), (10.0, 14.0), (25.0, 6.0), (45.0, 12.0)),
        pieces=(CurvePiece(name="w", kind="through", points=(0, 1, 2, 3)),),
    )
    form = begun(plate(), "wave", wave)
    form = begun(form, "sheet", b.ExtrudedProfile(distance=40, back=40, inputs=of("wave"), tag="s"))
    for by in ("wave", "sheet"):
        split = b.SplitSolid(gap=0.4, inputs=of(by, "by"), tag="p")
        parted = e.PartOff(part="plate", other="lower", name="Lower", step=split).applied_to(form)
        both = [volume(evaluator, parted, part) for part in ("plate", "lower")]
        length = evaluator.body(parted.parts[2], parted.parts).drawn.chains[0].segments[0]  # type: ignore[attr-defined]
        inside = outline(Chain((length,), False), 1e-3)
        inside = inside[(inside[:, 0] >= 0) & (inside[:, 0] <= 40)]
        slab = 0.4 * 30 * np.linalg.norm(np.diff(inside, axis=0), axis=1).sum()
        assert sum(both) == pytest.approx(24_000 - slab, rel=5e-4)
        assert "Split at what passes through it" in parted.parts[1].steps[-1].sentence()
    split = b.SplitSolid(inputs=of("plate", "by"), tag="p")
    wrong = begun(form, "other", b.ExtrudedProfile(distance=3, inputs=of("profile"), tag="o"))
    wrong = e.Shape(part="other", step=split).applied_to(wrong)
    with pytest.raises(HollowMarbleError, match="surface that is open"):
        evaluator.body(wrong.parts[-1], wrong.parts)


@pytest.mark.parametrize(("how", "order"), [("straight", 0), ("smooth", 1), ("curvature", 2)])
def test_two_curves_are_joined_across_their_nearest_ends(evaluator: FormEvaluator, how: Any, order: int) -> None:
    """In one plane the outcome is flat; from two planes it runs in space; it is as smooth as was asked (derivatives at the joints)."""
    bow = CurvePiece(name="b", kind="through", points=(0, 1, 2))
    one = DrawnCurve(points=((0.0, 0.0), (10.0, 5.0), (20.0, 3.0)), pieces=(bow,))
    other = DrawnCurve(
        plane=CurvePlane(origin=(35, 0, 10)), points=((0.0, 0.0), (6.0, 8.0), (15.0, 4.0)), pieces=(bow,)
    )
    for tilt in (0.0, 25.0):
        plane = CurvePlane(origin=(35, 0, 10), tilt=(tilt, 0, 0)) if tilt else CurvePlane()
        second = other.model_copy(update={"plane": plane})
        if not tilt:
            second = second.model_copy(update={"points": tuple((x + 35, y + 10) for x, y in other.points)})
        form = begun(begun(Form(), "one", one), "other", second)
        form = e.Shape(part="one", step=JoinedCurves(how=how, inputs=of("other", "with"), tag="j")).applied_to(form)
        drawn = evaluator.body(form.parts[0], form.parts).drawn  # type: ignore[attr-defined]
        assert (drawn.plane is None) == bool(tilt)
        (chain,) = drawn.placed()
        assert len(chain.segments) == 3
        for before, after in zip(chain.segments, chain.segments[1:]):
            a, c = before.along(np.ones(1))[0], after.along(np.zeros(1))[0]
            assert np.linalg.norm(before.at(np.ones(1)) - after.at(np.zeros(1))) < 1e-9
            kink = (
                np.linalg.norm(np.cross(np.append(a, 0)[:3], np.append(c, 0)[:3]))
                / np.linalg.norm(a)
                / np.linalg.norm(c)
            )
            jump = abs(curvature(before, np.ones(1))[0] - curvature(after, np.zeros(1))[0])
            assert (kink < 1e-9) == (order > 0)
            assert jump < 1e-9 or order < 2


def test_what_another_hand_trimmed_is_not_meant_by_number(evaluator: FormEvaluator) -> None:
    seen = begun(Form(), "line", rectangle(40, 30))
    met = e.TrimCurve(part="line", piece="l1", at=(40, 15)).applied_to(seen)
    assert [piece.name for piece in met.parts[0].steps[0].pieces] == ["l0", "l2", "l3"]  # type: ignore[union-attr]
    assert not e.still_meant(e.ExtendCurve(part="line", point=1, by=3), seen, met, evaluator)
    assert e.still_meant(e.ExtendCurve(part="line", point=1, by=3), met, met, evaluator)
    with pytest.raises(HollowMarbleError, match="is a built form, not a curve"):
        e.TrimCurve(part="plate", piece="l1", at=(0, 0)).applied_to(plate())


def test_a_solid_follows_a_cage_that_stays_a_cage(evaluator: FormEvaluator) -> None:
    """Hollowed and opened on its own, it follows what is sculpted; the cage's own mesh and recipe are as they were."""
    form = begun(Form(), "pebble", BoxStart(size=(40, 30, 20), divisions=(3, 3, 3)))
    start = b.MadeExact(name="Pebble", inputs=of("pebble", "of"), tag="x")
    form = begun(form, "shell", start)
    assert form.parts[1].steps[0].sentence() == "Made a solid that follows Pebble"
    whole = volume(evaluator, form, "shell")
    form = e.Shape(part="shell", step=b.Hollowed(wall=1.6, tag="h")).applied_to(form)
    hollow = volume(evaluator, form, "shell")
    assert 0 < hollow < whole
    assert isinstance(evaluator.body(form.parts[0], form.parts), CageBody)
    faces = tuple(range(9))
    pulled = ExtrudedFaces(faces=faces[:1], distance=6)
    grown = e.Shape(part="pebble", step=pulled).applied_to(form)
    assert volume(evaluator, grown, "shell") > hollow
    with pytest.raises(HollowMarbleError, match="Shell is made with Pebble"):
        e.RemovePart(part="pebble").applied_to(form)


def test_what_is_so_already_is_not_said_again(evaluator: FormEvaluator) -> None:
    """A rectangle of two levels and two uprights is parallel of itself; the sentence names because of what."""
    sides = tuple(CurveHold(kind="upright" if k % 2 else "level", pieces=(f"l{k}",)) for k in range(4))
    form = begun(Form(), "profile", rectangle(40, 30, holds=sides))
    more = CurveHold(kind="parallel", pieces=("l0", "l2"))
    with pytest.raises(HollowMarbleError, match="so already, because of: l0 level"):
        amended(form, "profile", 0, holds=(*sides, more))
    wide = CurveHold(kind="length", pieces=("l0",), value=50)
    longer = amended(form, "profile", 0, holds=(*sides, wide))
    assert longer.parts[0].steps[0].kept()[0].points[1] == pytest.approx([45, 0], abs=5.1)  # type: ignore[union-attr]
    assert amended(longer, "profile", 0, holds=(*sides, wide.model_copy(update={"value": 60.0})))
