"""Surfaces as models of the light transport library: the one place where what a finish is made of becomes what is traced."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache
from typing import Any

import numpy as np

from hollow_marble.core.render.scene import Image, Sheet, Surface
from hollow_marble.core.studio import finishes
from hollow_marble.core.studio.finishes import Coated, Colour, Made
from hollow_marble.core.studio.finishes.coats import coated
from hollow_marble.core.studio.grains import cells

COAT_RAYS = 0.3
"""Share of the rays at a coated surface that are spent on its coat."""

LACQUER_RAYS = 0.17
"""Share of the rays, and of the base's light, that a clear coat over metal takes: what it reflects of even light at 70°, so that none is made."""

ROUGH = 0.6
"""Width of the lobe where a picture of roughness is white."""


SHARES = "vertex_share"
"""What the library calls the shares that a body's points bring."""


def model_of(surface: Surface, beyond: Made | None = None) -> dict[str, Any]:
    """Reflectance model of a surface; `beyond` is what lies on its outer side where that is no air.

    Plastics are a rough dielectric coat over a base in two parts (`finishes.Coated`), metals rough conductors, glass a dielectric that
    may be filled (`filling`), what absorbs nothing and glows is told by `glow`.
    """
    made = surface.made
    if beyond is not None:
        return _between(made, beyond)
    model = _roughened(made, surface.colour, surface.rough)
    if surface.into is not None:
        model = {
            "type": "blendbsdf",
            "weight": {"type": "mesh_attribute", "name": SHARES},
            "first": model,
            "last": _roughened(surface.into.made, surface.into.colour, surface.rough),
        }
    if surface.relief is not None:  # one for all: laid over one another the library loses light
        model = {"type": "bumpmap", "height": texture(surface.relief), "under": model}
    if surface.cover is not None:
        model = {"type": "mask", "opacity": texture(surface.cover), "under": model}
    if made.base != "glass" and surface.cover is None:
        model = {"type": "twosided", "side": model}
    return model


def filling(made: Made) -> dict[str, Any] | None:
    """What a glass body is filled with: a clear medium that swallows light by the way it goes (Beer–Lambert), None where it swallows none."""
    if made.base != "glass" or max(made.absorbs) <= 0:
        return None
    return {
        "type": "homogeneous",
        "albedo": {"type": "rgb", "value": [0.0, 0.0, 0.0]},
        "sigma_t": {"type": "rgb", "value": [max(v, 1e-7) for v in made.absorbs]},
    }


def _roughened(made: Made, colour: Sheet | None, rough: Sheet | None) -> dict[str, Any]:
    model = _bare(made, colour)
    if rough is None:
        return model
    return {
        "type": "blendbsdf",
        "weight": texture(rough),
        "smooth": model,
        "rough": _bare(_rougher(made), colour),
    }


def _rougher(made: Made) -> Made:
    coat = coated(ROUGH, made.coat.ior) if made.coat is not None else None
    return replace(
        made,
        alpha=(max(made.alpha[0], ROUGH), max(made.alpha[1], ROUGH)),
        coat=coat,
        lacquer=None if coat else made.lacquer,
    )


def _bare(made: Made, colour: Sheet | None) -> dict[str, Any]:
    if made.base == "glow":
        return {"type": "diffuse", "reflectance": reflectance((0.0, 0.0, 0.0))}
    if made.base == "glass":
        tint = reflectance(made.colour)
        if max(made.alpha) < 0.01:
            return {"type": "dielectric", "int_ior": made.ior, "specular_transmittance": tint}
        return {
            "type": "roughdielectric",
            "distribution": "ggx",
            "int_ior": made.ior,
            "alpha": made.alpha[0],
            "specular_transmittance": tint,
        }
    if made.base == "metal":
        return _lacquered(made, _metal(made, made.colour, colour))
    if made.flakes[0]:
        return _lacquered(made, _flaked(made, colour))
    if made.lacquer is not None:  # a clear coat of nearly the same index swallows the surface below it
        coat = coated(made.lacquer, made.coat.ior if made.coat else 1.5)
        return _coated(coat, made.colour, colour)
    if made.coat is None:
        return {"type": "diffuse", "reflectance": _scaled(made.colour, colour, 1.0)}
    return _coated(made.coat, made.colour, colour)


def _between(made: Made, beyond: Made) -> dict[str, Any]:
    """Where a liquid wets glass: smooth, or as rough as the glass."""
    if abs(made.ior - beyond.ior) < 1e-3:  # of one index: nothing is seen there
        return {"type": "null"}
    model = {"type": "dielectric", "int_ior": made.ior, "ext_ior": beyond.ior}
    if max(beyond.alpha) < 0.01:
        return model
    return model | {"type": "roughdielectric", "distribution": "ggx", "alpha": beyond.alpha[0]}


def _metal(made: Made, shade: Colour, colour: Sheet | None) -> dict[str, Any]:
    model: dict[str, Any] = {
        "type": "roughconductor",
        "distribution": "ggx",
        "alpha_u": max(made.alpha[0], 1e-3),
        "alpha_v": max(made.alpha[1], 1e-3),
    }
    if made.eta is not None and made.k is not None and colour is None:
        model |= {"eta": reflectance(made.eta), "k": reflectance(made.k)}
    else:
        model |= {"material": "none", "specular_reflectance": _scaled(shade, colour, 1.0)}
    lost = max(made.made_up)
    if lost < 0.004:
        return model
    # what facets throw to and fro comes out evenly; a blend weighs, so both parts are given by their weights' inverses
    share = min(lost, 0.3)
    r, g, b = (value / share for value in made.made_up)
    model["specular_reflectance"] = _scaled(
        (1.0, 1.0, 1.0) if "eta" in model else shade, None if "eta" in model else colour, 1 / (1 - share)
    )
    return {
        "type": "blendbsdf",
        "weight": share,
        "once": model,
        "often": {"type": "diffuse", "reflectance": reflectance((r, g, b))},
    }


def _flaked(made: Made, colour: Sheet | None) -> dict[str, Any]:
    """Pigment with metal flakes in it, each tilted its own way."""
    share, size = made.flakes
    sparkle = {
        "type": "normalmap",
        "normalmap": texture(Sheet(_flakes(), 64 * size)),
        "under": {
            "type": "roughconductor",
            "distribution": "ggx",
            "alpha": 0.16,
            "material": "none",
            "specular_reflectance": _scaled(made.colour, colour, 1.0),
        },
    }
    under = {"type": "diffuse", "reflectance": _scaled(made.colour, colour, 1.0)}
    return {"type": "blendbsdf", "weight": share, "pigment": under, "flakes": sparkle}


@lru_cache(maxsize=1)
def _flakes() -> Image:
    """(512, 512, 3) normals of 64 x 64 flakes, as a picture 0 to 1."""
    rng = np.random.default_rng(21)
    nearest = cells(512, 64, 22)
    tilt = rng.normal(0, 0.16, (64 * 64, 2))
    normals = np.concatenate([tilt, np.ones((len(tilt), 1))], axis=1)
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    return np.asarray(normals[nearest] * 0.5 + 0.5, np.float32)


def _lacquered(made: Made, under: dict[str, Any]) -> dict[str, Any]:
    if made.lacquer is None:
        return under
    over = _coat(coated(made.lacquer, 1.5), 1 / LACQUER_RAYS)
    return {"type": "blendbsdf", "weight": LACQUER_RAYS, "under": under, "coat": over}


def _coated(coat: Coated, base: Colour, colour: Sheet | None) -> dict[str, Any]:
    """Coat and base are added: the library's blend weighs them, so each is given by its weight's inverse."""
    scale = (coat.even + coat.falling) / (1 - COAT_RAYS)
    falling: dict[str, Any] = {
        "type": "plastic",
        "int_ior": finishes.UNDER,
        "specular_reflectance": reflectance((0.0, 0.0, 0.0)),
        "diffuse_reflectance": _scaled(base, colour, scale),
        "nonlinear": False,
    }
    if coat.even:
        share = coat.falling / (coat.even + coat.falling)
        falling = {
            "type": "blendbsdf",
            "weight": share,
            "even": {"type": "diffuse", "reflectance": _scaled(base, colour, scale)},
            "falling": falling,
        }
    return {"type": "blendbsdf", "weight": 1 - COAT_RAYS, "coat": _coat(coat, coat.share / COAT_RAYS), "base": falling}


@lru_cache(maxsize=64)
def _coat(coat: Coated, scale: float) -> Any:
    """The coat alone, made once: the library works tables out for each."""
    import mitsuba as mi

    model = {
        "type": "roughplastic",
        "distribution": "ggx",
        "int_ior": coat.ior,
        "alpha": coat.alpha,
        "specular_reflectance": reflectance((scale,) * 3),
        "diffuse_reflectance": reflectance((0.0, 0.0, 0.0)),
        "nonlinear": False,
    }
    return mi.load_dict(model)


def _scaled(colour: Colour, sheet: Sheet | None, scale: float) -> dict[str, Any]:
    if sheet is None:
        r, g, b = colour
        return reflectance((r * scale, g * scale, b * scale))
    return texture(replace(sheet, pixels=sheet.pixels * np.float32(scale)))


def reflectance(colour: Colour) -> dict[str, Any]:
    """A colour that may be more than 1, as a part of a blend is."""
    import mitsuba as mi

    return {"type": "srgb", "color": mi.ScalarColor3f(*colour), "unbounded": True}


def texture(sheet: Sheet) -> dict[str, Any]:
    """A sheet as a texture of the library, by texture coordinates in mm; its first row of pixels is its top."""
    import mitsuba as mi

    # the library counts rows from the foot
    pixels = (sheet.pixels if sheet.pixels.ndim == 3 else sheet.pixels[..., None])[::-1]
    transform = mi.ScalarTransform3f
    scale = [1 / sheet.wide, 1 / sheet.tall]
    to = transform().scale(scale).translate([-sheet.at[0], -sheet.at[1]])
    return {
        "type": "bitmap",
        "bitmap": mi.Bitmap(np.ascontiguousarray(pixels, np.float32)),
        "raw": True,
        "to_uv": to,
        "wrap_mode": "repeat" if sheet.repeats else "clamp",
    }
