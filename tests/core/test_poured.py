"""Liquid in a vessel: skins by their areas (closed forms), and light that goes through as it must."""

from __future__ import annotations

import json
import subprocess
import sys

import manifold3d
import numpy as np
import pytest

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.render.poured import poured
from hollow_marble.core.render.scene import Body, Surface
from hollow_marble.core.studio.finishes import Made

GLASS = Made("glass", (1.0, 1.0, 1.0), ior=1.5)
WATER = Made("glass", (1.0, 1.0, 1.0), ior=1.333, liquid=True)


def body_of(solid: manifold3d.Manifold, made: Made) -> Body:
    mesh = solid.to_mesh()
    corners = mesh.vert_properties[mesh.tri_verts].astype("f4")
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    count = len(corners)
    triangles = np.arange(3 * count).reshape(-1, 3).astype("u4")
    return Body(corners.reshape(-1, 3), np.repeat(normals, 3, axis=0), triangles, Surface(made))


def beaker() -> tuple[manifold3d.Manifold, manifold3d.Manifold]:
    """A beaker of radius 30 with walls of 3 mm, and water in it to 40 mm that leaves 0.4 mm of air all around."""
    outer = manifold3d.Manifold.cylinder(60, 30, 30, 256)
    inner = manifold3d.Manifold.cylinder(60, 27, 27, 256).translate([0, 0, 3])
    return outer - inner, manifold3d.Manifold.cylinder(36.6, 26.6, 26.6, 256).translate([0, 0, 3.4])


def area(body: Body) -> float:
    a, b, c = body.points[body.triangles].transpose(1, 0, 2).astype(float)
    return float(np.linalg.norm(np.cross(b - a, c - a), axis=1).sum() / 2)


def test_a_liquid_and_its_vessel_become_three_skins_without_air_between() -> None:
    vessel, water = (body_of(solid, made) for solid, made in zip(beaker(), (GLASS, WATER), strict=True))
    other = body_of(manifold3d.Manifold.cube([5, 5, 5]), Made("scatter", (0.5, 0.5, 0.5)))
    skins = poured([vessel, other, water])
    assert skins[0] is other, "what is neither stays as it is"
    between, free, glass = skins[1:]
    assert between.beyond == GLASS
    wet = np.pi * 27**2 + 2 * np.pi * 27 * 37
    assert area(between) == pytest.approx(wet, rel=0.02)
    assert area(free) == pytest.approx(np.pi * 27**2, rel=0.03)
    whole = np.pi * 30**2 * 2 + 2 * np.pi * 30 * 60 + 2 * np.pi * 27 * 57
    assert area(glass) == pytest.approx(whole - wet, rel=0.02)
    out = between.points[between.triangles].mean(axis=1)[:, :2]
    facing = between.normals[between.triangles[:, 0]][:, :2]
    low = between.points[between.triangles].mean(axis=1)[:, 2] > 5
    assert ((out * facing).sum(axis=1)[low] > 0).all(), "it faces out of the liquid, into the glass"


def test_a_thin_wall_holds_the_liquid() -> None:
    """A glass of 0.7 mm, thinner than the liquid clings: none comes out on its far side."""
    cylinder = manifold3d.Manifold.cylinder
    vessel = cylinder(60, 30, 30, 128) - cylinder(60, 29.3, 29.3, 128).translate([0, 0, 0.7])
    water = cylinder(36, 29.2, 29.2, 128).translate([0, 0, 0.8])
    between, free, *glass = poured([body_of(vessel, GLASS), body_of(water, WATER)])
    assert np.hypot(*free.points[:, :2].T).max() < 29.4
    assert free.points[:, 2].min() > 30, "only its level is free"
    wet = np.pi * 29.3**2 + 2 * np.pi * 29.3 * 36.1
    assert area(between) == pytest.approx(wet, rel=0.02)
    whole = np.pi * 30**2 * 2 + 2 * np.pi * 30 * 60 + 2 * np.pi * 29.3 * 59.3
    assert sum(area(skin) for skin in glass) == pytest.approx(whole - wet, rel=0.02), "it has no hole"
    for skin in glass:
        a, b, c = skin.points[skin.triangles].transpose(1, 0, 2)
        assert (np.cross(b - a, c - a) * skin.normals[skin.triangles[:, 0]]).sum(axis=1).min() > -1e-3


def test_two_liquids_stand_in_one_vessel() -> None:
    """Oil on water, 0.2 mm apart: each wets the wall where it stands."""
    cylinder = manifold3d.Manifold.cylinder
    vessel, water = beaker()
    oil = cylinder(10, 26.6, 26.6, 256).translate([0, 0, 41.5])
    skins = poured([body_of(vessel, GLASS), body_of(water, WATER), body_of(oil, WATER)])
    betweens = [skin for skin in skins if skin.beyond == GLASS]
    assert [area(skin) for skin in betweens] == pytest.approx(
        [np.pi * 27**2 + 2 * np.pi * 27 * 37, 2 * np.pi * 27 * 10], rel=0.1
    )
    assert skins[-1].surface.made == GLASS


def test_a_liquid_beside_its_vessel_stays_by_itself() -> None:
    vessel, water = beaker()
    apart = [body_of(vessel, GLASS), body_of(water.translate([100, 0, 0]), WATER)]
    assert {id(one) for one in poured(apart)} == {id(one) for one in apart}


def test_an_open_vessel_is_told() -> None:
    vessel, water = (body_of(solid, made) for solid, made in zip(beaker(), (GLASS, WATER), strict=True))
    holed = Body(vessel.points, vessel.normals, vessel.triangles[5:], vessel.surface)
    with pytest.raises(HollowMarbleError, match="closed"):
        poured([holed, water])


SCRIPT = """
import json
import numpy as np, manifold3d
from hollow_marble.core.render import tracer
from hollow_marble.core.render.poured import poured
from hollow_marble.core.render.scene import Scene
from hollow_marble.core.studio.camera import lens_at
from hollow_marble.core.studio.finishes import Made
from tests.core.test_poured import body_of
tracer.choose_variant("scalar_rgb")
lens = lens_at(np.array([0.0, -300, 0.0]), np.zeros(3), 85, upright=False, roll=0, shift=(0, 0), aperture=None, focus=np.zeros(3))
stripes = np.repeat(np.repeat((np.indices((8, 16)).sum(axis=0) % 2)[..., None], 3, axis=2), 8, axis=1).repeat(8, axis=0).astype(np.float32)
cube = manifold3d.Manifold.cube
outer, inner = cube([60, 60, 60], True), cube([50, 50, 50], True)

def image(bodies, seed=1):
    return tracer.trace(tracer.build(Scene(bodies, [], lens, stripes), 24, 24), 256, seed)

def glass(absorbs=0.0): return Made("glass", (1.0, 1.0, 1.0), ior=1.5, absorbs=(absorbs,) * 3)
def liquid(absorbs=0.0): return Made("glass", (1.0, 1.0, 1.0), ior=1.5, absorbs=(absorbs,) * 3, liquid=True)

turned = [2.0, 3.0, 25.0]
solid = body_of(outer.rotate(turned), glass())
apart = [body_of((outer - inner).rotate(turned), glass()), body_of(cube([49, 49, 52], True).rotate(turned), liquid())]
whole = image([solid])
seen = {"noise": image([solid], 2), "filled": image(poured(apart), 3), "air": image(apart, 4)}
out = {name: float(np.abs(other - whole).mean()) for name, other in seen.items()}
lit = lambda bodies: float(tracer.trace(tracer.build(Scene(bodies, [], lens, np.ones((2, 4, 3), np.float32)), 6, 6), 8192, 1)[2:4, 2:4].mean())
out["through"] = lit(poured([body_of(outer - inner, glass()), body_of(cube([49, 49, 49], True), liquid(0.01))]))
print(json.dumps(out))
"""


def test_light_goes_through_a_filled_vessel_as_through_one_block() -> None:
    """With glass and liquid of one index nothing is seen of the wall between them (Snell, Fresnel); what 50 mm of the liquid swallow is
    told by Beer and Lambert, with Fresnel's 4 % at front and back."""
    done = subprocess.run([sys.executable, "-c", SCRIPT], capture_output=True, text=True, timeout=200)
    assert done.returncode == 0, done.stderr[-2000:]
    found = json.loads(done.stdout.splitlines()[-1])
    assert found["filled"] < 1.2 * found["noise"]
    assert found["air"] > 2 * found["noise"], "with air between, the block looks quite another"
    left = np.exp(-0.01 * 50)
    f = 0.04
    assert found["through"] == pytest.approx(f + (1 - f) ** 2 * left / (1 - f * left), rel=0.02)
