"""Scenes for the light transport library (Mitsuba 3), rendered in passes.

Import this module only in a process that may die: the fast variant aborts the whole process where libLLVM is too old.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.render.scene import Body, Glowing, Scene, Sheet, Surface
from hollow_marble.core.render.surfaces import SHARES, filling, model_of, reflectance, texture
from hollow_marble.core.studio.camera import FRAME_WIDTH, Lens
from hollow_marble.core.studio.finishes import Made

Variant = Literal["llvm_ad_rgb", "scalar_rgb"]
MOST_BOUNCES = 10
MOST_BOUNCES_FILLED = 24

MASK = Made("scatter", (1.0, 1.0, 1.0))


def choose_variant(variant: Variant) -> None:
    """Set the library's variant for this process; call once, before anything else here."""
    import mitsuba as mi

    mi.set_variant(variant)
    mi.set_log_level(mi.LogLevel.Error)


@dataclass(frozen=True, eq=False)
class Built:
    """A scene in the library's own terms: the scene itself, what traces its light, what traces layers."""

    scene: Any
    light: Any
    layers: Any


def build(scene: Scene, width: int, height: int, piece: tuple[int, int, int, int] | None = None) -> Built:
    """A scene for a picture of the given size, or a piece of it: px from its left and its top, wide and tall."""
    import mitsuba as mi

    filled = any(body.beyond is not None or filling(body.surface.made) for body in scene.bodies)
    parts: dict[str, Any] = {
        "type": "scene",
        "room": _surround(mi, scene),
        "sensor": _sensor(mi, scene.lens, width, height, piece or (0, 0, width, height)),
    }
    models: dict[tuple[int, Made | None], Any] = {}
    for number, body in enumerate(scene.bodies):
        surface = id(body.surface), body.beyond
        if surface not in models:  # bodies of one surface share its model
            models[surface] = mi.load_dict(model_of(body.surface, body.beyond))
        parts[f"body{number}"] = _mesh(mi, f"body{number}", body, models[surface])
    for number, lamp in enumerate(scene.lamps):
        # made one after the other here: the library makes what is told it in an order of its own, not always the same, and with the
        # order of the lamps every sample is another
        parts[f"lamp{number}"] = _lamp(mi, f"lamp{number}", lamp)
    way = (
        {"type": "volpath", "max_depth": MOST_BOUNCES_FILLED, "rr_depth": 8}
        if filled
        else {"type": "path", "max_depth": MOST_BOUNCES, "rr_depth": 5}
    )
    light = mi.load_dict(way)
    layers = mi.load_dict({"type": "aov", "aovs": "albedo:albedo,normal:sh_normal"})
    built = mi.load_dict(parts)
    _keep_numbers_out_of_kernels(mi, built)
    return Built(built, light, layers)


def _surround(mi: Any, scene: Scene) -> dict[str, Any]:
    """The map all around. The library lays maps out with y up and looks along its own way: turned so that our left edge is the front."""
    image = scene.surround
    if (image == image[0, 0]).all():
        return {"type": "constant", "radiance": {"type": "rgb", "value": image[0, 0].tolist()}}
    turn = mi.ScalarTransform4f().rotate([0, 0, 1], 180) @ mi.ScalarTransform4f().rotate([1, 0, 0], 90)
    # a column more: the library's maps share their first and last
    return {"type": "envmap", "bitmap": mi.Bitmap(np.ascontiguousarray(image[:, ::-1], np.float32)), "to_world": turn}


def frame_of(lens: Lens, width: int, height: int) -> tuple[int, int, int, int]:
    """Size of the whole film whose middle lies on the lens's axis, and where the picture lies in it: px. The shift is kept to whole px."""
    scale = width / FRAME_WIDTH
    right, up = round(lens.shift[0] * scale), round(lens.shift[1] * scale)
    return width + 2 * abs(right), height + 2 * abs(up), abs(right) + right, abs(up) - up


def _sensor(mi: Any, lens: Lens, width: int, height: int, piece: tuple[int, int, int, int]) -> dict[str, Any]:
    wide, tall, left, top = frame_of(lens, width, height)
    view = 2 * math.atan(math.tan(lens.view / 2) * wide / width)
    sensor: dict[str, Any] = {
        "type": "perspective",
        "fov": math.degrees(view),
        "fov_axis": "x",
        "near_clip": 1.0,
        "far_clip": 1e6,
        "to_world": mi.ScalarTransform4f().look_at(
            origin=lens.place.tolist(), target=(lens.place + 100 * lens.forward).tolist(), up=lens.up.tolist()
        ),
        "film": {
            "type": "hdrfilm",
            "width": wide,
            "height": tall,
            "crop_offset_x": left + piece[0],
            "crop_offset_y": top + piece[1],
            "crop_width": piece[2],
            "crop_height": piece[3],
            "pixel_format": "rgba",
            "component_format": "float32",
            "rfilter": {"type": "box"},
        },
        "sampler": {"type": "independent", "sample_count": 4},
    }
    if lens.aperture > 0:
        sensor |= {"type": "thinlens", "aperture_radius": lens.aperture / 2, "focus_distance": lens.focus}
    return sensor


def _keep_numbers_out_of_kernels(mi: Any, built: Any) -> None:
    """Hold the scene's numbers in memory rather than in the compiled kernel, so that a moved lamp or another lens
    finds the kernel already compiled (measured: 0.25 s instead of 0.7 s to the first pass)."""
    if mi.variant() == "scalar_rgb":
        return
    import drjit as dr

    params = mi.traverse(built)
    for name, value in list(params):
        if name.endswith((".faces", ".vertex_positions", ".vertex_normals", ".vertex_texcoords", ".alpha", ".eta")):
            continue  # of the last two there are only those of the few finishes, and tables would be worked out anew
        if dr.is_jit_v(value) or name.endswith("to_world"):  # where lamps and lens stand are matrices in a wrapping
            dr.make_opaque(value)
            params[name] = value
            params.set_dirty(name)
    params.update()


def trace(built: Built, samples: int, seed: int) -> NDArray[np.float32]:
    """One pass: mean radiance (h, w, 3) of `samples` new samples a pixel."""
    return trace_through(built, samples, seed)[..., :3]


def trace_through(built: Built, samples: int, seed: int) -> NDArray[np.float32]:
    """One pass with what is covered: (h, w, 4), the last the share of a pixel in which something stands."""
    import mitsuba as mi

    return np.array(mi.render(built.scene, integrator=built.light, spp=samples, seed=seed), np.float32)  # type: ignore[arg-type]


def trace_layers(built: Built, samples: int = 4) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """Albedo (h, w, 3), clamped to 0..1, and shading normal (h, w, 3) for the cleaning of a picture."""
    import mitsuba as mi

    image = np.nan_to_num(np.array(mi.render(built.scene, integrator=built.layers, spp=samples, seed=0), np.float32))  # type: ignore[arg-type]
    albedo, normal = np.clip(image[..., :3], 0, 1), np.clip(image[..., 3:6], -1, 1)
    return np.ascontiguousarray(albedo), np.ascontiguousarray(normal)


def cover_of(scene: Scene, width: int, height: int, samples: int = 16) -> NDArray[np.float32]:
    """(h, w) share of each pixel that the product covers; what is cut out of it by a picture is not there."""
    return _white_where(scene, width, height, samples, lambda body: body.product)


def standing_of(scene: Scene, width: int, height: int, samples: int = 8) -> NDArray[np.float32]:
    """(h, w) share of each pixel in which anything stands."""
    return _white_where(scene, width, height, samples, lambda body: True)


def _white_where(
    scene: Scene, width: int, height: int, samples: int, white: Callable[[Body], bool]
) -> NDArray[np.float32]:
    def masked(body: Body) -> Body:
        shade = 1.0 if white(body) else 0.0
        return replace(body, surface=Surface(replace(MASK, colour=(shade,) * 3), cover=body.surface.cover))

    lamps = [
        Body(
            lamp.points.astype(np.float32),
            np.tile(np.array([0, 0, 1], np.float32), (len(lamp.points), 1)),
            lamp.triangles.astype(np.uint32),
            Surface(MASK),
        )
        for lamp in scene.lamps
    ]
    bodies = [masked(body) for body in (*scene.bodies, *lamps)]
    return trace_layers(build(replace(scene, bodies=bodies, lamps=[]), width, height), samples)[0][..., 0]


def _lamp(mi: Any, name: str, lamp: Glowing) -> Any:
    radiance: dict[str, Any] = {"type": "rgb", "value": list(lamp.radiance)}
    if lamp.picture is not None:
        radiance = texture(Sheet(lamp.picture[..., None] * np.array(lamp.radiance, np.float32), 1.0))
    props = mi.Properties()
    props["mesh_bsdf"] = mi.load_dict({"type": "diffuse", "reflectance": reflectance((0.0, 0.0, 0.0))})
    props["mesh_emitter"] = mi.load_dict({"type": "area", "radiance": radiance})
    return _filled_mesh(mi, name, props, lamp.points, lamp.triangles, None, lamp.texture)


def _mesh(mi: Any, name: str, body: Body, model: Any) -> Any:
    props = mi.Properties()
    made = body.surface.made
    props["mesh_bsdf"] = model
    if made.base == "glow":
        props["mesh_emitter"] = mi.load_dict({"type": "area", "radiance": {"type": "rgb", "value": list(made.colour)}})
    inside = filling(made)
    if inside is not None:
        props["interior"] = mi.load_dict(inside)
    outside = filling(body.beyond) if body.beyond is not None else None
    if outside is not None:
        props["exterior"] = mi.load_dict(outside)
    return _filled_mesh(mi, name, props, body.points, body.triangles, body.normals, body.texture, body.shares)


def _filled_mesh(
    mi: Any,
    name: str,
    props: Any,
    points: NDArray[np.floating],
    triangles: NDArray[np.integer],
    normals: NDArray[np.floating] | None,
    at: NDArray[np.floating] | None,
    shares: NDArray[np.floating] | None = None,
) -> Any:
    mesh = mi.Mesh(
        name,
        len(points),
        len(triangles),
        props=props,
        has_vertex_normals=normals is not None,
        has_vertex_texcoords=at is not None,
    )
    if shares is not None:
        mesh.add_attribute(SHARES, 1, np.ascontiguousarray(shares, np.float32))
    params = mi.traverse(mesh)
    params["vertex_positions"] = np.ascontiguousarray(points, np.float32).reshape(-1)
    if normals is not None:
        params["vertex_normals"] = np.ascontiguousarray(normals, np.float32).reshape(-1)
    if at is not None:
        params["vertex_texcoords"] = np.ascontiguousarray(at, np.float32).reshape(-1)
    params["faces"] = np.ascontiguousarray(triangles, np.uint32).reshape(-1)
    params.update()
    return mesh
