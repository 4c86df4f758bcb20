"""Scenes for the light transport library (Mitsuba 3), rendered in passes.

Import this module only in a process that may die: the fast variant aborts the whole process where libLLVM is too old.
"""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.render.scene import Body, Material, Scene
from hollow_marble.core.studio import finishes

Variant = Literal["llvm_ad_rgb", "scalar_rgb"]
MOST_BOUNCES = 10


def choose_variant(variant: Variant) -> None:
    """Set the library's variant for this process; call once, before anything else here."""
    import mitsuba as mi

    mi.set_variant(variant)
    mi.set_log_level(mi.LogLevel.Error)


def surface(material: Material) -> dict[str, Any]:
    """Reflectance model of a material, from the table of finishes.

    Plastics are a rough dielectric coat over a base in two parts (`finishes.Coated`), metal a rough conductor tinted by its colour, glass
    a smooth dielectric, the backdrop Lambertian.
    """
    coated = finishes.COATED.get(material.kind)
    if coated is not None:
        return _coated(coated, coated.base(material.colour))
    if material.kind == "polished metal":
        return {
            "type": "roughconductor",
            "distribution": "ggx",
            "alpha": finishes.POLISHED,
            "material": "none",
            "specular_reflectance": _reflectance(material.colour),
        }
    if material.kind == "clear glass":
        tint = _reflectance(finishes.glass_tint(material.colour))
        return {"type": "dielectric", "int_ior": finishes.GLASS, "specular_transmittance": tint}
    return {"type": "diffuse", "reflectance": _reflectance(material.colour)}


COAT_RAYS = 0.3
"""Share of the rays at a coated surface that are spent on its coat."""


def _coated(coated: finishes.Coated, base: finishes.Colour) -> dict[str, Any]:
    """Coat and base are added: the library's blend weighs them, so each is given by its weight's inverse."""
    scale = (coated.even + coated.falling) / (1 - COAT_RAYS)
    under = _reflectance((base[0] * scale, base[1] * scale, base[2] * scale))
    falling = _plastic(finishes.UNDER, _reflectance((0.0, 0.0, 0.0)), under)
    if coated.even:
        share = coated.falling / (coated.even + coated.falling)
        falling = {
            "type": "blendbsdf",
            "weight": share,
            "even": {"type": "diffuse", "reflectance": under},
            "falling": falling,
        }
    return {"type": "blendbsdf", "weight": 1 - COAT_RAYS, "coat": _coat(coated), "base": falling}


@lru_cache(maxsize=16)
def _coat(coated: finishes.Coated) -> Any:
    """The coat alone, made once: the library works tables out for each."""
    import mitsuba as mi

    return mi.load_dict(_plastic(coated, _reflectance((1 / COAT_RAYS,) * 3), _reflectance((0.0, 0.0, 0.0))))


def _plastic(coat: finishes.Coated, reflected: dict[str, Any], scattered: dict[str, Any]) -> dict[str, Any]:
    return {
        "type": "roughplastic",
        "distribution": "ggx",
        "int_ior": coat.ior,
        "alpha": coat.alpha,
        "specular_reflectance": reflected,
        "diffuse_reflectance": scattered,
        "nonlinear": False,
    }


def _reflectance(colour: finishes.Colour) -> dict[str, Any]:
    """A colour that may be more than 1, as a part of a blend is."""
    import mitsuba as mi

    return {"type": "srgb", "color": mi.ScalarColor3f(*colour), "unbounded": True}


def build(scene: Scene, width: int, height: int) -> tuple[Any, Any, Any]:
    """(scene, light integrator, layer integrator) of the library for a picture of the given size."""
    import mitsuba as mi

    parts: dict[str, Any] = {
        "type": "scene",
        "room": {"type": "constant", "radiance": {"type": "rgb", "value": list(scene.room_glow)}},
        "sensor": {
            "type": "perspective",
            "fov": math.degrees(scene.lens.view),
            "fov_axis": "x",
            "near_clip": 1.0,
            "far_clip": 1e5,
            "to_world": mi.ScalarTransform4f().look_at(
                origin=scene.lens.place.tolist(), target=scene.lens.target.tolist(), up=[0, 0, 1]
            ),
            "film": {
                "type": "hdrfilm",
                "width": width,
                "height": height,
                "pixel_format": "rgb",
                "component_format": "float32",
                "rfilter": {"type": "box"},
            },
            "sampler": {"type": "independent", "sample_count": 4},
        },
    }
    for number, body in enumerate(scene.bodies):
        parts[f"body{number}"] = _mesh(mi, f"body{number}", body)
    for number, panel in enumerate(scene.panels):
        # made one after the other here: the library makes what is told it in an order of its own, not always the same, and with the
        # order of the lamps every sample is another
        parts[f"panel{number}"] = mi.load_dict(
            {
                "type": "rectangle",
                "id": f"panel{number}",
                "to_world": mi.ScalarTransform4f(_square_to(panel.corners).tolist()),
                "emitter": {"type": "area", "radiance": {"type": "rgb", "value": list(panel.radiance)}},
            }
        )
    light = mi.load_dict({"type": "path", "max_depth": MOST_BOUNCES, "rr_depth": 5})
    layers = mi.load_dict({"type": "aov", "aovs": "albedo:albedo,normal:sh_normal"})
    built = mi.load_dict(parts)
    _keep_numbers_out_of_kernels(mi, built)
    return built, light, layers


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


def trace(built: tuple[Any, Any, Any], samples: int, seed: int) -> NDArray[np.float32]:
    """One pass: mean radiance (h, w, 3) of `samples` new samples a pixel."""
    import mitsuba as mi

    scene, light, _ = built
    image: NDArray[np.float32] = np.array(mi.render(scene, integrator=light, spp=samples, seed=seed), np.float32)  # type: ignore[arg-type]
    return image[..., :3]


def trace_layers(built: tuple[Any, Any, Any], samples: int = 4) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """Albedo (h, w, 3), clamped to 0..1, and shading normal (h, w, 3) for the cleaning of a picture."""
    import mitsuba as mi

    scene, _, layers = built
    image = np.nan_to_num(np.array(mi.render(scene, integrator=layers, spp=samples, seed=0), np.float32))  # type: ignore[arg-type]
    albedo, normal = np.clip(image[..., :3], 0, 1), np.clip(image[..., 3:6], -1, 1)
    return np.ascontiguousarray(albedo), np.ascontiguousarray(normal)


def _mesh(mi: Any, name: str, body: Body) -> Any:
    props = mi.Properties()
    props["mesh_bsdf"] = mi.load_dict(surface(body.material))
    mesh = mi.Mesh(name, len(body.points), len(body.triangles), props=props, has_vertex_normals=True)
    params = mi.traverse(mesh)
    params["vertex_positions"] = body.points.reshape(-1)
    params["vertex_normals"] = body.normals.reshape(-1)
    params["faces"] = body.triangles.reshape(-1)
    params.update()
    return mesh


def _square_to(corners: NDArray[np.float64]) -> NDArray[np.float64]:
    """Matrix (4, 4) that takes the square -1..1 in x, y (normal +z) to the panel."""
    centre = corners.mean(axis=0)
    x = (corners[1] - corners[0]) / 2
    y = (corners[2] - corners[1]) / 2
    normal = np.cross(x, y)
    matrix = np.eye(4)
    matrix[:3, 0], matrix[:3, 1], matrix[:3, 2], matrix[:3, 3] = x, y, normal / np.linalg.norm(normal), centre
    return matrix
