"""Built forms against their limits: a cage out as STEP, a recipe of twenty steps changed at its foot, a spout joined with a rounded seam,
a curve dragged with what is held. Each beside the same done the plain way, in the same run."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from typing import Any

import numpy as np
from scipy.optimize import least_squares

from benchmarks.measure import Result, median_ms, within
from hollow_marble.core.cage import starts
from hollow_marble.core.curves.drawing import Drawing, Piece
from hollow_marble.core.curves.holding import Hold, held
from hollow_marble.core.solids.patches import fidelity_of, patches_of
from hollow_marble.core.solids.solid import here
from hollow_marble.demo.brindle import BODY, SPOUT, spout_curves
from hollow_marble.documents.form import built as b
from hollow_marble.documents.form.curves import CornerRound, CurvePiece, CurvePlane, DrawnCurve
from hollow_marble.documents.form.edits import ChangeStep, Shape, StartPart
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.form.recipe import FromPart
from hollow_marble.exchange.step import Named3D, step_of


def _once(work: Callable[[], Any]) -> float:
    began = time.perf_counter()
    work()
    return (time.perf_counter() - began) * 1000


def _result(
    name: str, unit: str, ours: float, most: float, peer: float | None = None, beside: str = "the limit"
) -> Result:
    return Result(name, unit, ours, most if peer is None else peer, beside, f"≤ {most:g} {unit}", ours <= most)


def step_out() -> Iterator[Result]:
    """A cage of 486 faces to valid, closed STEP."""
    cage = starts.box((62.0, 34.0, 108.0), (9, 9, 9))
    cage = cage.moved(cage.points + np.random.default_rng(1).normal(0, 0.3, cage.points.shape))
    written = b""

    def out() -> None:
        nonlocal written
        patches = patches_of(cage)
        solid = here("sculpted", patches, tuple(f"face-{k}" for k in range(len(patches.surfaces))))
        assert solid.closed
        written = step_of([Named3D("Body", None, solid)], "Body")

    out()
    name = "cage of 486 faces to STEP"
    yield _result(name, "ms", median_ms(out, 3), 3000)
    yield _result(f"{name}, size", "MB", len(written) / 1e6, 2.0)
    found = fidelity_of(cage)
    size = float(np.linalg.norm(np.ptp(cage.points, axis=0)))
    yield _result(f"{name}, off its limit", "of its diagonal", found.off / size, 1e-5)
    yield _result(f"{name}, turn of normals where three faces meet", "°", found.jumps[3], 0.1)


def recipe() -> Iterator[Result]:
    """A number at the foot of twenty steps to the new mesh."""
    form, kernel_asked = _twenty(), [0]

    def counted(name: str, *arguments: Any) -> Any:
        kernel_asked[0] += name not in ("mesh", "bent")
        return here(name, *arguments)

    evaluator = FormEvaluator(lambda sha: b"", kernel=counted)
    plate = next(part for part in form.parts if part.id == "plate")
    evaluator.mesh(plate, form.parts)
    first = kernel_asked[0]
    times = []
    for k in range(3):
        kernel_asked[0] = 0
        profile = form.parts[0].steps[0].model_copy(update={"points": _corners(80.0 + k + 1)})
        changed = ChangeStep(part="profile", index=0, step=profile).applied_to(form)
        now = next(part for part in changed.parts if part.id == "plate")
        times.append(_once(lambda: evaluator.mesh(now, changed.parts)))  # noqa: B023
    name = "number at the foot of 20 steps to the new mesh"
    yield _result(name, "ms", float(np.median(times)), 1500)
    yield _result(f"{name}, steps worked out again", "steps", kernel_asked[0], first)


def _corners(wide: float) -> tuple[tuple[float, float], ...]:
    return ((0.0, 0.0), (wide, 0.0), (wide, 50.0), (0.0, 50.0))


def _twenty() -> Form:
    """A plate, rounded and hollowed, with holes and bosses: twenty steps on one profile."""
    pieces = tuple(CurvePiece(name=f"l{k}", kind="line", points=(k, (k + 1) % 4)) for k in range(4))
    corners = tuple(CornerRound(point=k, radius=6) for k in range(4))
    profile = DrawnCurve(plane=CurvePlane(on="top"), points=_corners(80.0), pieces=pieces, rounds=corners)
    form = StartPart(part="profile", name="Profile", start=profile).applied_to(Form())
    start = b.ExtrudedProfile(distance=18, inputs={"profile": FromPart(part="profile")}, tag="up")
    form = StartPart(part="plate", name="Plate", start=start).applied_to(form)
    form = Shape(part="plate", step=b.Hollowed(wall=2, open=("up.end",), tag="h")).applied_to(form)
    for k in range(18):
        piece = CurvePiece(name="c", kind="circle", points=(0,), value=1.8)
        at = (8.0 + 12 * (k % 6), 10.0 + 14 * (k // 6))
        ring = DrawnCurve(plane=CurvePlane(on="top", origin=(0, 0, 1)), points=(at,), pieces=(piece,))
        form = StartPart(part=f"c{k}", name=f"Circle {k}", start=ring).applied_to(form)
        how: Any = "join" if k % 2 else "cut away"
        distance, back = (8.0, 0.0) if k % 2 else (3.0, 3.0)
        boss = b.ExtrudedProfile(
            distance=distance, back=back, how=how, inputs={"profile": FromPart(part=f"c{k}")}, tag=f"b{k}"
        )
        form = Shape(part="plate", step=boss).applied_to(form)
    return form


def spout() -> Iterator[Result]:
    """A swept spout joined to Brindle's sculpted body with a seam of 4 mm; beside it the same without the rounding."""
    form = StartPart(part="body", name="Body", start=BODY).applied_to(Form())
    for ident, curve in spout_curves().items():
        form = StartPart(part=ident, name=ident, start=curve).applied_to(form)
    evaluator = FormEvaluator(lambda sha: b"")
    evaluator.body(form.parts[0]).exact(here)
    times = {}
    for blend in (0.0, 4.0):
        joined = Shape(part="body", step=SPOUT.model_copy(update={"blend": blend})).applied_to(form)
        times[blend] = _once(lambda: evaluator.body(joined.parts[0], joined.parts))  # noqa: B023
    yield _result(
        "spout joined to a sculpted body, seam 4 mm", "ms", times[4.0], 3000, times[0.0], "without the rounding"
    )


def dragged() -> Iterator[Result]:
    """A point of a curve of 24 pieces dragged with everything held; beside it SciPy's general solver on the same equations."""
    count = 24
    angle = np.arange(count) * 2 * np.pi / count
    points = np.column_stack([30 * np.cos(angle), 30 * np.sin(angle)])
    pieces = tuple(Piece(f"l{k}", "line", (k, (k + 1) % count)) for k in range(count))
    drawing = Drawing(points, pieces)
    side = float(np.linalg.norm(points[1] - points[0]))
    holds = (
        Hold("fixed", (0,), at=(30.0, 0.0)),
        Hold("length", pieces=("l0",), value=side),
        *(Hold("equal", pieces=(f"l{k}", f"l{k + 1}")) for k in range(0, count - 1)),
        *(Hold("parallel", pieces=(f"l{k}", f"l{k + count // 2}")) for k in range(0, count // 2, 3)),
    )
    wish = {6: points[6] + [0.0, 1.5]}

    def solved() -> None:
        held(drawing, holds, wish)

    def left(x: np.ndarray) -> np.ndarray:
        p = x.reshape(-1, 2)
        v = np.roll(p, -1, axis=0) - p
        long = np.linalg.norm(v, axis=1)
        half = range(0, count // 2, 3)
        across = [v[k, 0] * v[k + count // 2, 1] - v[k, 1] * v[k + count // 2, 0] for k in half]
        return np.concatenate([p[0] - [30, 0], [long[0] - side], np.diff(long), across, 0.01 * (p[6] - wish[6])])

    peer = median_ms(lambda: least_squares(left, points.ravel()), 3)
    yield _result(
        "curve of 24 pieces dragged, all held", "ms", median_ms(solved, 9), 33, peer, "scipy.optimize.least_squares"
    )
    ring = np.arange(400) * 2 * np.pi / 400
    large = Drawing(
        30 * np.column_stack([np.cos(ring), np.sin(ring)]),
        tuple(Piece(f"l{k}", "line", (k, (k + 1) % 400)) for k in range(400)),
    )
    said = (
        Hold("fixed", (0,), at=(30.0, 0.0)),
        *(Hold("length", pieces=(f"l{3 * k}",), value=0.47) for k in range(4)),
        *(Hold("level", pieces=(f"l{100 + 2 * k}",)) for k in range(4)),
        *(Hold("upright", pieces=(f"l{200 + 2 * k}",)) for k in range(4)),
    )
    begun = held(large, said).drawing
    yield within(
        "drawing of 400 pieces dragged, 13 things held",
        "ms",
        median_ms(lambda: held(begun, said, {6: begun.points[6] + [0.1, 0.2]}), 9),
        33,
    )
