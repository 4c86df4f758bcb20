"""The surround of a setting as a map."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.shelf import Shelf
from hollow_marble.core.studio import emitters, rgbe
from hollow_marble.core.studio.sky import sky_map, sun_share
from hollow_marble.core.studio.surround import directions, painted, resized, solid_angles, turned
from hollow_marble.documents.edit import LoadAsset
from hollow_marble.documents.studio.model import Setting, Sky, Surround
from hollow_marble.documents.studio.staging.placing import azimuth_of

Image = NDArray[np.float32]

TINT = np.array([0.98, 0.99, 1.03], np.float32)
"""A bare room is a little cool."""


def surround_map(setting: Setting, load: LoadAsset, shelf: Shelf) -> Image:
    """(h, w, 3) radiance all around the set; (2, 4, 3) where it is the same everywhere."""
    skies = [lamp for lamp in setting.lamps if isinstance(lamp, Sky) and lamp.on]
    surround = setting.surround
    if not surround.areas and surround.map is None and not skies:
        room = 2.0 ** (surround.room + surround.strength)
        return np.full((2, 4, 3), room, np.float32) * TINT
    image: Image = shelf.get("surround", surround.model_dump_json(), lambda: painted_surround(surround, load))
    for sky in skies:
        image = image + resized(_dome(sky, azimuth_of(sky, setting), shelf), image.shape[1], image.shape[0])
    return image


def surround_light(image: Image, normal: NDArray[np.floating]) -> NDArray[np.float64]:
    """(3,) irradiance that a map all around gives to a surface that faces along the normal (3,)."""
    if (image == image[0, 0]).all():
        even: NDArray[np.float64] = np.pi * image[0, 0].astype(np.float64)
        return even
    if image.shape[1] > 256:
        step = image.shape[1] // 256
        image = image[step // 2 :: step, step // 2 :: step]
    tall, width = image.shape[:2]
    facing = np.maximum(directions(width, tall) @ normal, 0) * solid_angles(width, tall)[:, None]
    light: NDArray[np.float64] = (image * facing[..., None]).sum(axis=(0, 1), dtype=np.float64)
    return light


def _dome(sky: Sky, azimuth: float, shelf: Shelf) -> Image:
    """A sky without its sun."""
    share = 1 - sun_share(sky.height, sky.haze)
    level = share * 2.0**sky.power * emitters.REFERENCE_FLUX / (np.pi**2 * 600.0**2)
    key = (azimuth, sky.height, sky.haze, level)
    dome: Image = shelf.get("sky", key, lambda: sky_map(azimuth, sky.height, sky.haze, level))
    return dome


def painted_surround(surround: Surround, load: LoadAsset) -> Image:
    """The surround alone, without skies."""
    width, height = surround.pixels
    if surround.map is not None:
        base = resized(rgbe.decoded(load(surround.map)), width, height)
    else:
        base = np.full((height, width, 3), 2.0**surround.room, np.float32) * TINT
    image = painted(base, surround.painted())
    return turned(image, surround.turn, surround.lift) * np.float32(2.0**surround.strength)
