"""Light on a box or a cylinder: greys for its sides from one direction, and the shadow it casts on the ground.

A side's brightness is its base value times the share of light it catches (Lambert's cosine law) over what comes from all
around. Values are sRGB greys 0 to 255; light adds up in linear light (IEC 61966-2-1).
"""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.drafting.box import FACES, Placed
from hollow_marble.core.errors import HollowMarbleError

Array = NDArray[np.float64]
Body = Literal["box", "cylinder"]
AMBIENT = 0.16


def direction(across: float, up: float) -> Array:
    """Unit vector towards the light from a place on a sphere seen from the front: across and up, -1 to 1.

    The sphere's visible half looks to the viewer (-y), so the light stands before the product.
    """
    length = float(np.hypot(across, up))
    if length > 1:
        across, up = across / length, up / length
    toward = float(np.sqrt(max(0.0, 1 - across * across - up * up)))
    return np.array([across, -toward, up])


def to_linear(grey: Array | float) -> Array:
    share = np.asarray(grey, float) / 255
    return np.where(share <= 0.04045, share / 12.92, ((share + 0.055) / 1.055) ** 2.4)


def to_grey(linear: Array | float) -> Array:
    value = np.clip(np.asarray(linear, float), 0, 1)
    return np.asarray(255 * np.where(value <= 0.0031308, 12.92 * value, 1.055 * value ** (1 / 2.4) - 0.055))


def shades(normals: Array, light: Array, base: float) -> Array:
    """Greys (N,) of sides with outward normals (N, 3); a side square to the light shows the base grey itself."""
    caught = np.clip(normals @ light, 0, 1)
    return to_grey(to_linear(base) * (AMBIENT + (1 - AMBIENT) * caught))


def three_tones(light: Array, base: float, turn: float) -> tuple[float, float, float]:
    """Greys of an upright box's three sides in sight, seen `turn` radians from its right: lit, middle, shaded."""
    side = np.array([1.0, 0, 0]) if turn >= 0 else np.array([-1.0, 0, 0])
    greys = np.sort(shades(np.array([[0, 0, 1.0], [0, -1.0, 0], side]), light, base))[::-1]
    return float(greys[0]), float(greys[1]), float(greys[2])


def in_view(light: Array, turn: float) -> Array:
    """A light placed as the viewer sees it, carried to the product's own directions for a view turned about the upright."""
    c, s = np.cos(turn), np.sin(turn)
    return np.array([c * light[0] - s * light[1], s * light[0] + c * light[1], light[2]])


def box_sides(box: Placed, light: Array, base: float) -> list[tuple[Array, float]]:
    """Visible sides of a box: their corners (4, 2) px and greys."""
    found = []
    for face, (axis, end) in FACES.items():
        if box.seen[face]:
            normal = np.zeros((1, 3))
            normal[0, axis] = 1 if end else -1
            found.append((box.quad(face), float(shades(normal, light, base)[0])))
    return found


def round_sides(box: Placed, light: Array, base: float, strips: int = 48) -> list[tuple[Array, float]]:
    """The upright cylinder that stands in the box: visible strips of its wall, then its top; corners px and greys."""
    w, d, _h = box.size
    angles = np.linspace(0, 2 * np.pi, strips + 1)
    ring = np.column_stack([w / 2 + w / 2 * np.cos(angles), d / 2 + d / 2 * np.sin(angles)])
    low, high = box.in_space("bottom", ring), box.in_space("top", ring)
    found = []
    for k in range(strips):
        middle = (angles[k] + angles[k + 1]) / 2
        normal = np.array([[np.cos(middle) / w, np.sin(middle) / d, 0.0]])
        normal /= np.linalg.norm(normal)
        if (low[k] + low[k + 1]) @ normal[0] < 0:
            corners = box.camera.project(np.array([low[k], low[k + 1], high[k + 1], high[k]]))
            found.append((corners, float(shades(normal, light, base)[0])))
    if box.seen["top"]:
        found.append((box.camera.project(high[:-1]), float(shades(np.array([[0, 0, 1.0]]), light, base)[0])))
    return found


def cast_shadow(box: Placed, light: Array, body: Body) -> Array:
    """Outline (N, 2) px of the shadow on the ground the box stands on; a cylinder's ends in an ellipse."""
    if light[2] <= 0.05:
        raise HollowMarbleError("The light stands too low to throw a shadow on the ground. Raise it.")
    w, d, h = box.size
    if body == "box":
        ring = np.array([[0.0, 0.0], [w, 0.0], [w, d], [0.0, d]])
    else:
        angles = np.linspace(0, 2 * np.pi, 73)[:-1]
        ring = np.column_stack([w / 2 + w / 2 * np.cos(angles), d / 2 + d / 2 * np.sin(angles)])
    thrown = ring - light[:2] * (h / light[2])
    outline = _hull(np.concatenate([ring, thrown]))
    return box.from_face("bottom", outline)


def _hull(points: Array) -> Array:
    """Convex hull, Andrew's monotone chain."""
    order = points[np.lexsort((points[:, 1], points[:, 0]))]

    def half(run: Array) -> list[Array]:
        kept: list[Array] = []
        for p in run:
            while len(kept) > 1:
                u, v = kept[-1] - kept[-2], p - kept[-2]
                if u[0] * v[1] - u[1] * v[0] > 0:
                    break
                kept.pop()
            kept.append(p)
        return kept[:-1]

    return np.array(half(order) + half(order[::-1]))
