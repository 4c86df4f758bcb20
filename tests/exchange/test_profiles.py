"""Profiles as DXF and SVG, both ways: pieces come back as what they were, in mm; what would be too much is refused."""

from __future__ import annotations

import io
from typing import Any

import ezdxf
import numpy as np
import pytest
from ezdxf import units
from ezdxf.document import Drawing as Dxf

from hollow_marble.core.curves.chains import area_and_centroid, chain_length, outline
from hollow_marble.core.curves.changing import joined
from hollow_marble.core.curves.drawing import Drawing, Piece
from hollow_marble.core.curves.meeting import nearest_on
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.exchange.profiles_in import read_profiles
from hollow_marble.exchange.profiles_out import profile_dxf, profile_svg

PLATE = Drawing(
    np.array(
        [(0, 0), (40, 0), (40, 20), (30, 30), (30, 20), (0, 30), (12, 12), (25, 8), (25, 14), (60, 60), (75, 65), (60, 69),
         (57.75, 56), (-20, 0), (-30, 12), (-22, 25), (-14, 12), (100, 0), (110, 9), (120, -4), (130, 2)],
        float,
    ),
    (
        Piece("base", "line", (0, 1)),
        Piece("side", "line", (1, 2)),
        Piece("corner", "arc", (2, 3, 4)),
        Piece("top", "line", (3, 5)),
        Piece("back", "line", (5, 0)),
        Piece("hole", "circle", (6,), 5.0),
        Piece("slot", "ellipse", (7, 8), 2.5),
        Piece("leaf", "through", (13, 14, 15, 16), closed=True),
        Piece("wave", "by", (17, 18, 19, 20)),
    ),
)  # fmt: skip


def _written(drawing: Drawing, kind: str) -> bytes:
    chains = drawing.chains()
    return profile_dxf("Plate", chains) if kind == "dxf" else profile_svg("Plate", chains).encode()


@pytest.mark.parametrize("kind", ["dxf", "svg"])
def test_a_profile_comes_back_as_what_it_was(kind: str) -> None:
    used = sorted({point for piece in PLATE.pieces for point in piece.points})
    number = {old: new for new, old in enumerate(used)}
    plate = Drawing(
        PLATE.points[used],
        tuple(
            Piece(p.name, p.kind, tuple(number[q] for q in p.points), p.value, p.left, p.closed) for p in PLATE.pieces
        ),
    )
    found = read_profiles(_written(plate, kind), kind, "plate")
    (drawing,) = found.drawings
    assert found.left == {}
    kinds = sorted(piece.kind for piece in drawing.pieces)
    whole = ["arc", "circle", "ellipse", "line", "line", "line", "line"]
    assert [one for one in kinds if one != "by"] == whole
    before, after = plate.chains(), drawing.chains()
    near = 2e-6 if kind == "svg" else 1e-9
    assert sorted(chain_length(c) for c in after) == pytest.approx(sorted(chain_length(c) for c in before), rel=near)
    areas = [sorted(abs(area_and_centroid(c)[0]) for c in chains if c.closed) for chains in (before, after)]
    assert areas[1] == pytest.approx(areas[0], rel=near)
    # places: in DXF where they were, in SVG from the page's lower left
    lows = [np.vstack([outline(chain) for chain in chains]).min(axis=0) for chains in (before, after)]
    assert np.allclose(lows[1], lows[0] if kind == "dxf" else 5, atol=0.02)
    shift = 0 if kind == "dxf" else 5 - lows[0]
    for place in np.vstack([outline(chain) for chain in before]):
        away = min(nearest_on(segment, place + shift)[1] for chain in after for segment in chain.segments)
        assert away < 0.02  # the outline itself is within 0.01 mm


def test_an_arc_of_an_ellipse_and_a_blend_go_out_and_come_in() -> None:
    bow = Drawing(
        np.array([(0, 0), (10, 4), (3, -9), (-12, 3), (-40, 0), (-30, 0), (-60, 20), (-50, 25)], float),
        (Piece("line", "line", (4, 5)), Piece("other", "line", (6, 7))),
    )
    drawing, _ = joined(bow, (), 5, 6, "curvature") if len(bow.points) else (bow, ())
    for kind in ("dxf", "svg"):
        (back,) = read_profiles(_written(drawing, kind), kind, "bow").drawings
        (one,), (other,) = drawing.chains(), back.chains()
        assert chain_length(other) == pytest.approx(chain_length(one), rel=1e-4)
        degrees = {len(piece.knots) - len(piece.points) - 1 for piece in back.pieces if piece.kind == "by"}
        assert degrees == ({5} if kind == "dxf" else {3}), "SVG has cubics only"
    u = np.array([8.0, 3.0])
    v = 5 * np.array([-u[1], u[0]]) / np.linalg.norm(u)
    ends = [np.cos(t) * u + np.sin(t) * v for t in (0.4, 3.9)]
    oval = Drawing(np.array([(0, 0), u, *ends]), (Piece("oval", "oval", (0, 1, 2, 3), 5.0),))
    for kind in ("dxf", "svg"):
        (back,) = read_profiles(_written(oval, kind), kind, "oval").drawings
        assert [piece.kind for piece in back.pieces] == ["oval"]
        assert chain_length(back.chains()[0]) == pytest.approx(chain_length(oval.chains()[0]), rel=2e-6)


def _dxf(fill: Any, unit: int = units.MM) -> bytes:
    drawing = Dxf.new("AC1015")
    drawing.units = unit
    fill(drawing)
    text = io.StringIO()
    drawing.write(text)
    return text.getvalue().encode(drawing.encoding)


def test_other_units_blocks_and_lines_with_bulges_are_understood() -> None:
    def fill(drawing: Any) -> None:
        block = drawing.blocks.new("hole")
        block.add_circle((0, 0), 0.25)
        model = drawing.modelspace()
        model.add_lwpolyline(
            [(0, 0, 1), (2, 0, 1)], format="xyb", close=True
        )  # two half circles about (1, 0): radius 1
        for x in (0.5, 1.5):
            model.add_blockref("hole", (x, 0))
        model.add_text("Alder Row")

    found = read_profiles(_dxf(fill, units.IN), "dxf", "plate.dxf")
    (drawing,) = found.drawings
    assert found.left == {"TEXT": 1}
    assert sorted(piece.kind for piece in drawing.pieces) == ["arc", "arc", "circle", "circle"]
    areas = sorted(abs(area_and_centroid(chain)[0]) for chain in drawing.chains())
    assert areas == pytest.approx(np.pi * 25.4**2 * np.array([0.0625, 0.0625, 1.0]))


def test_a_rational_spline_is_followed_by_one_without_weights() -> None:
    def fill(drawing: Any) -> None:
        spline = drawing.modelspace().add_spline(degree=2)
        # a quarter of a circle of radius 10 (Piegl & Tiller 1997, section 7.3)
        spline.control_points = [(10, 0, 0), (10, 10, 0), (0, 10, 0)]
        spline.knots = [0, 0, 0, 1, 1, 1]
        spline.weights = [1, 0.5**0.5, 1]

    (drawing,) = read_profiles(_dxf(fill), "dxf", "arc.dxf").drawings
    places = outline(drawing.chains()[0])
    assert np.abs(np.linalg.norm(places, axis=1) - 10).max() < 0.012


def test_svg_shapes_are_read_in_mm_whatever_their_units_and_transforms() -> None:
    svg = b"""<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="50mm" viewBox="0 0 200 100">
    <g transform="translate(40,20) rotate(30)"><circle cx="20" cy="20" r="10"/><rect width="30" height="20" rx="4"/></g>
    <path d="M100 50 q10 -20 20 0 t20 0" style="display:none"/><text x="3" y="9">Alder Row</text></svg>"""
    found = read_profiles(svg, "svg", "shapes.svg")
    (drawing,) = found.drawings
    assert found.left == {"text": 1}
    circle = next(piece for piece in drawing.pieces if piece.kind == "circle")
    assert circle.value == pytest.approx(5)
    c, s = np.cos(np.pi / 6), np.sin(np.pi / 6)
    there = np.array([40 + 20 * c - 20 * s, 20 + 20 * s + 20 * c])
    assert drawing.points[circle.points[0]] == pytest.approx([there[0] / 2, (100 - there[1]) / 2])
    # half the size: 15 × 10 with corners of 2
    assert sorted(abs(area_and_centroid(chain)[0]) for chain in drawing.chains()) == pytest.approx(
        [np.pi * 25, 150 - (4 - np.pi) * 4]
    )
    plain = b'<svg xmlns="http://www.w3.org/2000/svg"><line x1="0" y1="0" x2="96" y2="0"/></svg>'
    (line,) = read_profiles(plain, "svg", "line.svg").drawings
    assert chain_length(line.chains()[0]) == pytest.approx(25.4), "96 px are an inch (CSS Values and Units, 6.2)"


def _nested() -> bytes:
    levels = "".join(
        f'<g id="g{k}">' + f'<use href="#g{k - 1}"/>' * 10 + "</g>" if k else '<g id="g0"><path d="M0 0L9 9"/></g>'
        for k in range(9)
    )
    return f'<svg xmlns="http://www.w3.org/2000/svg"><defs>{levels}</defs><use href="#g8"/></svg>'.encode()


def _grid(drawing: Any) -> None:
    drawing.blocks.new("dot").add_circle((0, 0), 1)
    drawing.modelspace().add_blockref(
        "dot", (0, 0), dxfattribs={"row_count": 30000, "column_count": 30000, "row_spacing": 5, "column_spacing": 5}
    )


@pytest.mark.parametrize(
    ("data", "kind", "said"),
    [
        (b"0\nSECTION\n", "dxf", "no line, arc or curve|no DXF file"),
        (b"\x00\x01 not a drawing", "dxf", "no DXF file|no line"),
        (b"<svg", "svg", "damaged or cut short"),
        (b'<svg xmlns="http://www.w3.org/2000/svg"><text>No</text></svg>', "svg", "no line, arc or curve"),
        (b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0L1e30 5"/></svg>', "svg", "1000 m from its origin"),
        (b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0L9 0M0 0L0 9M0 0L9 9"/></svg>', "svg", "3 pieces meet"),
        (b'<!DOCTYPE svg [<!ENTITY a "b">]><svg/>', "svg", "entities of its own"),
        (_nested(), "svg", "more than 4,000 pieces"),
        (_dxf(_grid), "dxf", "more than 4,000 pieces"),
        (b"0\nSECTION\n2\nENTITIES\n" + b"0\nLINE\n8\n0\n" * 17_000, "dxf", "more than 4,000 pieces"),
        (b" " * 9_000_000, "svg", "9 MB"),
        (b'<svg xmlns="http://www.w3.org/2000/svg"><path d="' + b"M0 0L1 1" * 90_000 + b'"/></svg>', "svg", "more than 4,000 pieces"),
        (
            _dxf(lambda d: d.modelspace().add_lwpolyline([(k, k % 7) for k in range(900)])),
            "dxf",
            "900 points; up to 400",
        ),
    ],
)  # fmt: skip
def test_what_cannot_be_a_profile_is_refused(data: bytes, kind: str, said: str) -> None:
    with pytest.raises(HollowMarbleError, match=said):
        read_profiles(data, kind, f"file.{kind}")


def test_what_was_written_is_read_by_the_library_too() -> None:
    drawing = ezdxf.read(io.StringIO(profile_dxf("Plate", PLATE.chains()[:1]).decode()))
    assert drawing.units == units.MM
    assert len(drawing.audit().errors) == 0
    assert {entity.dxf.layer for entity in drawing.modelspace()} == {"Plate"}
