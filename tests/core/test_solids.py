"""Solids of the B-rep kernel: volumes by formula, names that hold, refusals in sentences, and answers of the kernel that lie."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from hollow_marble.core.curves import splines
from hollow_marble.core.curves.drawing import Chain
from hollow_marble.core.curves.planes import UPRIGHT, Drawn
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.solids.kernel import shapes
from hollow_marble.core.solids.solid import EdgeName, Solid, SolidMesh, here
from hollow_marble.core.surface.curvature import bends_of
from tests.core import drawn as d

CIRCLE = 2 * np.pi


def turned(drawing: Any, angle: float = 360.0, capped: bool = True) -> Solid:
    solid: Solid = here("turned", "t", d.drawn(drawing), d.UP, angle, capped)
    return solid


def box(wide: float = 40, deep: float = 30, high: float = 20, at: tuple[float, float] = (0, 0)) -> Solid:
    solid: Solid = here("extruded", "box", d.drawn(d.rectangle(wide, deep, at), "top"), high)
    return solid


def rod(radius: float = 8, high: float = 40, at: tuple[float, float] = (20, 15)) -> Solid:
    solid: Solid = here("extruded", "rod", d.drawn(d.circle(radius, at), "top"), high)
    return solid


def mesh(solid: Solid, tolerance: float = 0.01) -> SolidMesh:
    found: SolidMesh = here("mesh", solid, tolerance)
    return found


def edge(solid: Solid, *faces: str) -> EdgeName:
    name = next(text for text in mesh(solid, 0.5).line_names if text.startswith("|".join(sorted(faces)) + "|"))
    one, other, numbers = name.split("|")
    *middle, length = (float(v) for v in numbers.split(","))
    return EdgeName((one, other), tuple(middle), length)  # type: ignore[arg-type]


def enclosed(found: SolidMesh) -> float:
    a, b, c = (found.points[found.triangles[:, k]] for k in range(3))
    return float(np.einsum("ij,ij->", a, np.cross(b, c))) / 6


@pytest.mark.parametrize(
    ("drawing", "volume"),
    [
        (d.circle(3, (10, 0)), 2 * np.pi**2 * 10 * 9),
        (d.rectangle(10, 5), np.pi * 100 * 5),
        (d.outline([(0, 0), (6, 0), (0, 9)]), np.pi * 36 * 9 / 3),
        (d.outline([(6, 0), (0, 9)], closed=False), np.pi * 36 * 9 / 3),
        (d.circle(10), 4 / 3 * np.pi * 1000),
        (
            d.rectangle(4, 6, (10, 0), rounds={0: 1.0}),
            CIRCLE * (24 * 12 - (1 - np.pi / 4) * (10 + (10 - 3 * np.pi) / (12 - 3 * np.pi))),
        ),
    ],
    ids=["torus", "cylinder", "cone", "cone of an open line", "sphere of a whole circle", "ring with a rounded corner"],
)
def test_turned_forms_have_the_volume_that_pappus_gives(drawing: Any, volume: float) -> None:
    """Pappus; the spandrel of a rounded square corner has its centroid r (10 − 3π) / (12 − 3π) from the corner's sides (common tables)."""
    assert turned(drawing).volume == pytest.approx(volume, rel=1e-9)
    assert turned(drawing, 90.0).volume == pytest.approx(volume / 4, rel=1e-9)


def test_a_half_is_taken_and_said() -> None:
    assert "half was taken" in turned(d.circle(10)).told[0]
    assert turned(d.circle(3, (10, 0))).told == ()


def test_a_ring_by_start_by_pipe_and_by_sweep_is_one_and_the_same() -> None:
    path = d.drawn(d.circle(10), "top")
    piped = here("piped", "r", path, 3.0)
    swept = here("swept", "r", d.drawn(d.circle(3)), path)
    for ring in (turned(d.circle(3, (10, 0))), piped, swept):
        volume, area, middle = here("measures", ring)
        assert volume == pytest.approx(2 * np.pi**2 * 90, rel=1e-9)
        assert area == pytest.approx(4 * np.pi**2 * 30, rel=1e-9)
        assert middle == pytest.approx(np.zeros(3), abs=1e-7)


def test_extruded_tapered_lofted() -> None:
    plate = [*d.rectangle(10, 20, rounds={0: 2.0}).chains(), *d.circle(2, (5, 10)).chains()]
    found = here("extruded", "e", Drawn("The plate", tuple(plate), UPRIGHT["top"]), 7.0)
    assert found.volume == pytest.approx((200 - (1 - np.pi / 4) * 4 - np.pi * 4) * 7, rel=1e-9)
    lean = 7 * np.tan(np.radians(5))
    tapered = here("extruded", "e", d.drawn(d.rectangle(10, 20), "top"), 7.0, 0.0, 5.0)
    wide, deep = 10 - 2 * lean, 20 - 2 * lean
    assert tapered.volume == pytest.approx(
        7 / 6 * (200 + wide * deep + 4 * (5 + wide / 2) * (10 + deep / 2)), rel=1e-6
    ), "prismoid"
    assert set(tapered.names) == {"e.start", "e.end", "e.l0", "e.l1", "e.l2", "e.l3"}
    holed = Drawn("The plate", (*d.rectangle(10, 20).chains(), *d.circle(2, (5, 10)).chains()), UPRIGHT["top"])
    released = here("extruded", "e", holed, 7.0, 0.0, 5.0)
    assert tapered.volume - released.volume == pytest.approx(
        np.pi * 7 / 3 * (4 + 2 * (2 + lean) + (2 + lean) ** 2), rel=1e-6
    ), "a cone that widens, as a mould lets go"
    assert {"e.start", "e.end", "e.l0"} < set(released.names)
    cone = here("lofted", "l", [d.drawn(d.circle(5), "top"), d.drawn(d.circle(8), d.lifted(10))], True)
    assert cone.volume == pytest.approx(np.pi * 10 / 3 * (25 + 40 + 64), rel=1e-6)


def test_a_pipe_follows_its_path_at_its_radius() -> None:
    path = d.drawn(d.through([(0, 0), (20, 5), (30, 30), (60, 40)]))
    pipe = here("piped", "p", path, 3.0)
    found = mesh(pipe, 0.02)
    dense = path.placed()[0].segments[0].at(np.linspace(0, 1, 4000))
    side = found.points[found.face_starts[pipe.names.index("p.section")] :][:400:7]
    away = [np.linalg.norm(dense - p, axis=1).min() for p in side]
    assert np.abs(np.array(away) - 3).max() < 2e-3
    with pytest.raises(HollowMarbleError, match=r"bends by a radius of 2.50 mm, so a pipe of 3 mm"):
        here("piped", "p", d.drawn(d.circle(2.5)), 3.0)


def test_sweeps_twist_and_grow_as_told() -> None:
    path = d.drawn(d.outline([(0, 0), (0, 40)], closed=False))
    square = d.drawn(d.rectangle(6, 6, (-3, -3)))
    cone = here("swept", "s", square, path, 0.0, 0.5)
    assert cone.volume == pytest.approx(40 / 3 * (36 + 18 + 9), rel=1e-6), "frustum"
    twisted = here("swept", "s", square, path, 90.0, 1.0)
    assert twisted.volume == pytest.approx(36 * 40, rel=1e-6), "Cavalieri"


def test_a_sweep_of_many_turns_is_what_its_way_says() -> None:
    turn = np.linspace(0, 10 * np.pi, 161)
    helix = np.column_stack([20 * np.cos(turn), 20 * np.sin(turn), 10 * turn / (2 * np.pi)])
    path = Drawn("The helix", (Chain((splines.through("h", helix),), False),), None)
    found = here("swept", "s", d.drawn(d.circle(2)), path)
    way = 10 * np.pi * np.hypot(20, 10 / (2 * np.pi))
    assert found.volume == pytest.approx(np.pi * 4 * way, rel=2e-3), "Pappus: its centroid runs along the helix"


def test_between_two_rails_the_profile_grows_with_their_distance() -> None:
    left, right = (d.drawn(d.outline([(0, y), (40, 2 * y)], closed=False), "top") for y in (-5.0, 5.0))
    found = here("railed", "r", d.drawn(d.rectangle(4, 2, (-2, -1))), left, right)
    assert found.volume == pytest.approx(40 / 3 * (10 * 5 + 20 * 10 + np.sqrt(50 * 200)), rel=1e-6), (
        "frustum of similar ends"
    )
    meeting = d.drawn(d.outline([(0, 5), (40, -10)], closed=False), "top")
    with pytest.raises(HollowMarbleError, match="The rails meet at"):
        here("railed", "r", d.drawn(d.rectangle(4, 2, (-2, -1))), left, meeting)


def test_joined_cut_and_kept_in_common() -> None:
    block, pin = box(), rod()
    a, b, both = 24_000.0, np.pi * 64 * 40, np.pi * 64 * 20
    for how, due in (("join", a + b - both), ("cut away", a - both), ("keep common", both)):
        assert here("combined", "c", block, pin, how).volume == pytest.approx(due, rel=1e-9), how
    one, other = (
        turned(d.circle(10)),
        here("placed", turned(d.circle(10)), np.column_stack([np.eye(3), [12.0, 0, 0]])),
    )
    lens = np.pi * (4 * 10 + 12) * (2 * 10 - 12) ** 2 / 12
    assert here("combined", "c", one, other, "keep common").volume == pytest.approx(lens, rel=1e-9), (
        "lens of two spheres"
    )
    with pytest.raises(HollowMarbleError, match=r"leaves nothing|do not touch"):
        here("combined", "c", block, rod(at=(200, 0)), "keep common")
    with pytest.raises(HollowMarbleError, match="changes nothing"):
        here("combined", "c", block, rod(at=(200, 0)), "cut away")
    with pytest.raises(HollowMarbleError, match="leaves nothing"):
        here("combined", "c", block, box(100, 100, 100, (-20, -20)), "cut away")


def test_a_seam_is_rounded_by_its_radius() -> None:
    blended = here("combined", "c", box(), rod(), "join", 3.0)
    plain = 24_000 + np.pi * 64 * 20
    # a concave quarter round turned about the rod's axis: the spandrel's area, its centroid off the rod by r(10 - 3π)/(12 - 3π)
    spandrel, off = (1 - np.pi / 4) * 9, 3 * (10 - 3 * np.pi) / (12 - 3 * np.pi)
    assert blended.volume == pytest.approx(plain + CIRCLE * (8 + off) * spandrel, rel=1e-9)
    assert any(name.startswith("c.blend.") for name in blended.names)


def test_rounded_and_chamfered_edges() -> None:
    block = box()
    corner = (edge(block, "box.l0", "box.l1"),)
    assert here("filleted", "f", block, corner, 3.0).volume == pytest.approx(
        24_000 - (1 - np.pi / 4) * 9 * 20, rel=1e-9
    )
    assert here("chamfered", "f", block, corner, 3.0).volume == pytest.approx(24_000 - 4.5 * 20, rel=1e-9)
    lost = (1 - np.pi / 4) * 20 * (9 + 18 + 36) / 3  # the square of a radius that grows evenly from 3 to 6, in the mean
    assert here("filleted", "f", block, corner, 3.0, 6.0).volume == pytest.approx(24_000 - lost, rel=1e-3)
    with pytest.raises(HollowMarbleError, match=r"A rounding of 50 mm is more than .* have room for; 29 mm fits"):
        here("filleted", "f", block, corner, 50.0)


def test_names_hold_while_what_is_below_changes() -> None:
    """A rounding stays on its edge when the profile changes, and when a face beside it is cut into pieces."""
    picked = edge(box(), "box.l0", "box.l1")
    wider = here("filleted", "f", box(55, 22, 31), (picked,), 3.0)
    assert wider.volume == pytest.approx(55 * 22 * 31 - (1 - np.pi / 4) * 9 * 31, rel=1e-9)
    through = here("combined", "c", box(), rod(4, 40, (40, 15)), "cut away")
    pieces = [name for name in through.names if name.startswith("box.l1")]
    assert pieces == ["box.l1#1", "box.l1#2"]
    again = here("filleted", "f", through, (picked,), 3.0)
    assert again.volume == pytest.approx(through.volume - (1 - np.pi / 4) * 9 * 20, rel=1e-9)
    with pytest.raises(HollowMarbleError, match="no longer there"):
        here("filleted", "f", rod(), (picked,), 1.0)


def test_hollowed_to_a_wall() -> None:
    block = box()
    assert here("hollowed", "h", block, 1.6, ("box.end",)).volume == pytest.approx(
        24_000 - 36.8 * 26.8 * 18.4, rel=1e-9
    )
    assert here("hollowed", "h", block, 1.6, ()).volume == pytest.approx(24_000 - 36.8 * 26.8 * 16.8, rel=1e-9)
    round_edge = here("filleted", "f", block, (edge(block, "box.l0", "box.l1"),), 1.0)
    with pytest.raises(HollowMarbleError, match="rounded by only 1 mm"):
        here("hollowed", "h", round_edge, 1.6, ())
    ball = here("hollowed", "h", turned(d.circle(10)), 2.0, ())
    assert ball.volume == pytest.approx(4 / 3 * np.pi * (1000 - 512), rel=1e-6)
    grown = here("moved_out", "o", block, 2.0)
    steiner = 24_000 + 2 * 2 * (1200 + 800 + 600) + np.pi * 4 * 90 + 4 / 3 * np.pi * 8
    assert grown.volume == pytest.approx(steiner, rel=1e-9), "Steiner's formula"


def test_answers_of_the_kernel_that_lie_are_caught() -> None:
    """A wall of 16 mm leaves no hollow in a block 30 mm deep: the kernel says that it is done, and gives the block itself."""
    with pytest.raises(HollowMarbleError, match="leaves no hollow"):
        here("hollowed", "h", box(), 16.0, ("box.end",))
    with pytest.raises(HollowMarbleError, match=r"came out with 24000.0 mm³ where 20000.0 mm³ were due"):
        shapes.checked(shapes.read(box()), "The block", (20_000, 20_000))
    surface = turned(d.through([(5, 0), (8, 10), (4, 20)]), capped=False)
    assert not surface.closed
    with pytest.raises(HollowMarbleError, match="came out open"):
        shapes.checked(shapes.read(surface), "The vase")
    vase = here("capped", "k", surface)
    assert vase.closed
    assert vase.volume == pytest.approx(turned(d.through([(5, 0), (8, 10), (4, 20)])).volume, rel=1e-9)


def test_split_repeated_mirrored_placed() -> None:
    block = box()
    upper, lower = (here("split", "s", block, d.lifted(10), 1.0, above) for above in (True, False))
    assert upper.volume == lower.volume == pytest.approx(40 * 30 * 9.5, rel=1e-9)
    assert "s.cut" in upper.names
    with pytest.raises(HollowMarbleError, match="does not pass through"):
        here("split", "s", block, d.lifted(-5), 0.0, True)
    assert here("repeated", "r", rod(), 3, (30.0, 0, 0), None).volume == pytest.approx(3 * np.pi * 64 * 40, rel=1e-9)
    six = here("repeated", "r", rod(3, 5, (20, 0)), 6, None, (np.zeros(3), np.array([0, 0, 1.0]), 60.0))
    assert six.volume == pytest.approx(6 * np.pi * 9 * 5, rel=1e-9)
    assert here("measures", six)[2] == pytest.approx([0, 0, 2.5], abs=1e-9)
    assert here("mirrored", "m", block, UPRIGHT["side"]).volume == pytest.approx(48_000, rel=1e-9)
    moved = here("placed", block, np.column_stack([np.diag([-1.0, 1, 1]), [1.0, 2, 3]]))
    assert here("measures", moved)[2] == pytest.approx([1 - 20, 2 + 15, 3 + 10])
    assert enclosed(mesh(moved)) == pytest.approx(24_000), "mirrored, and still with its outside out"


def test_meshes_lie_within_their_tolerance_with_exact_normals() -> None:
    ring = turned(d.circle(3, (10, 0)))
    for tolerance in (0.2, 0.02):
        found = mesh(ring, tolerance)
        radial = found.points * [1, 1, 0]
        radial *= 10 / np.linalg.norm(radial, axis=1, keepdims=True)
        normal = (found.points - radial) / 3
        assert np.abs(found.normals - normal).max() < 1e-6
        middle = found.points[found.triangles].mean(axis=1)
        flat = middle * [1, 1, 0]
        off = np.abs(np.linalg.norm(middle - flat * 10 / np.linalg.norm(flat, axis=1, keepdims=True), axis=1) - 3)
        assert off.max() < tolerance
        assert enclosed(found) == pytest.approx(ring.volume, rel=tolerance)
    welded = found.joined[found.triangles]
    ends = np.sort(np.concatenate([welded[:, [0, 1]], welded[:, [1, 2]], welded[:, [2, 0]]]), axis=1)
    assert (np.unique(ends, axis=0, return_counts=True)[1] == 2).all(), "watertight"


def test_curvature_of_a_torus_is_exact() -> None:
    """do Carmo 1976: K = cos v / (r (R + r cos v))."""
    found, bent = here("bent", turned(d.circle(3, (10, 0))), 0.1)
    bends = bends_of(np.concatenate([found.points[:, None], bent.derivatives], axis=1))
    across = np.linalg.norm(found.points[:, :2], axis=1)
    cosine = (across - 10) / 3
    assert bent.known.all()
    assert np.abs(bends.gaussian - cosine / (3 * (10 + 3 * cosine))).max() < 1e-9


def test_split_by_a_curve_and_by_a_surface_with_a_gap() -> None:
    """A slanted line takes a parallelogram out, as long as it runs in the block and as wide as the gap; a wave parts all there is."""
    block = box(40, 30, 20)
    line = d.drawn(d.outline([(-10, 5), (60, 25)], closed=False), "top", "The line")
    within = np.hypot(40, 40 * 20 / 70)
    sides = [here("split_by", "s", block, line, 1.5, above) for above in (True, False)]
    assert sum(side.volume for side in sides) == pytest.approx(24000 - within * 1.5 * 20, rel=1e-9)
    assert any(name.startswith("s.cut") for name in sides[0].names)
    wave = d.drawn(d.through([(-5, 12), (10, 20), (22, 9), (33, 18), (46, 11)]), "top", "The wave")
    above, below = (here("split_by", "s", block, wave, 0.0, side) for side in (True, False))
    assert above.volume + below.volume == pytest.approx(24000, rel=2e-4)  # as the kernel integrates a spline
    # the same sheet as a surface of its own, 2 mm of gap: its two sides lie 1 mm from it
    sheet = here("extruded", "w", wave, 40.0, 10.0)
    apart = [here("split_by", "s", block, sheet, 2.0, side) for side in (True, False)]
    for side, whole in zip(apart, (above, below)):
        assert side.volume < whole.volume
        cut = mesh(side, 0.01)
        rows = np.isin(cut.triangle_face, [k for k, name in enumerate(side.names) if name.startswith("s.cut")])
        off = here("away", sheet, cut.points[np.unique(cut.triangles[rows])])
        assert np.abs(off - 1).max() < 0.02
    for bad, said in (
        (d.drawn(d.through([(5, 5), (20, 20)]), "top", "The line"), "does not pass all the way"),
        (d.drawn(d.circle(5, (10, 10)), "top", "The ring"), "one open curve"),
        (box(3, 3, 3), "a surface that is open"),
    ):
        with pytest.raises(HollowMarbleError, match=said):
            here("split_by", "s", block, bad, 0.0, True)


def test_what_is_picked_is_measured_exactly() -> None:
    """Each number by hand: a plate 40 × 30 × 20 with a bore of 8 mm in its midst, and a corner rounded by 3 mm."""
    plate = here("combined", "c", box(), rod(), "cut away", 0.0)
    plate = here("filleted", "f", plate, (edge(plate, "box.l0", "box.l1"),), 3.0)
    bore, rounded = "c/rod.c", "f.box.l0~box.l1"

    def measured(faces: tuple[str, ...], *edges: EdgeName) -> Any:
        return here("measured", plate, edges, faces)

    ends = measured(("box.start", "box.end"))
    assert (ends.apart, ends.angle) == (pytest.approx(20), pytest.approx(0))
    assert ends.area == pytest.approx(2 * (1200 - (1 - np.pi / 4) * 9 - 64 * np.pi), rel=1e-9)
    hole = measured((bore,))
    assert (hole.radius, hole.apart) == (pytest.approx(8), None)
    assert hole.area == pytest.approx(2 * np.pi * 8 * 20, rel=1e-9)
    both = measured((bore, rounded))
    assert both.axes == pytest.approx(np.hypot(17, 12)), "from (20, 15) to (37, 3)"
    assert both.apart == pytest.approx(np.hypot(17, 15) - 8), "to where the rounding begins, at (37, 0)"
    assert both.radius is None
    leaning = measured(("box.l0", bore))
    assert leaning.angle == pytest.approx(0), "an axis along a flat face"
    assert measured(("box.end", bore)).angle == pytest.approx(90)
    assert leaning.apart == pytest.approx(7)
    upright = edge(plate, "box.l2", "box.l3")
    assert measured((), upright).length == pytest.approx(20)
    assert measured(("box.start",), upright).angle == pytest.approx(90)
    assert measured((), edge(plate, "box.end", bore)).radius == pytest.approx(8)
    assert measured((), edge(plate, "box.end", rounded)).radius == pytest.approx(3), (
        "an edge beside a rounding has a name too"
    )
    with pytest.raises(HollowMarbleError, match="A face it works on is no longer there"):
        measured(("nothing.at-all",))
