"""A clear coat over a base that scatters: what it gives back itself, and how dark the base must be under it.

Widths of lobes are those of GGX (Walter et al., Microfacet Models for Refraction through Rough Surfaces, 2007).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

Colour = tuple[float, float, float]
Floats = NDArray[np.float64]

UNDER = 1.49
"""Refractive index of the smooth coat that `falling` bases are under: they give back what it lets through, 1 - F, at every angle."""


def fresnel(cosine: Floats, ior: float) -> Floats:
    """Share of unpolarised light that a dielectric surface reflects, from outside (Fresnel's equations)."""
    c = np.clip(np.asarray(cosine, np.float64), 0, 1)
    inside = np.sqrt(np.maximum(1 - (1 - c * c) / ior**2, 0))
    parallel = (ior * c - inside) / (ior * c + inside)
    across = (c - ior * inside) / (c + ior * inside)
    share: Floats = (parallel**2 + across**2) / 2
    return share


def _smith(cosine: Floats, alpha: float) -> Floats:
    """Smith's shadowing of GGX on one side."""
    square = np.clip(cosine, 1e-6, 1) ** 2
    found: Floats = 2 / (1 + np.sqrt(1 + alpha**2 * (1 - square) / square))
    return found


@lru_cache(maxsize=256)
def directional(alpha: float, ior: float | None, count: int = 24) -> tuple[Floats, Floats]:
    """Cosines (count,), and the share of the light from there that a rough surface gives back by one reflection; `ior` None mirrors all.

    The facets are summed up over those that are seen from the direction (Heitz, Sampling the GGX Distribution of Visible Normals, 2018).
    """
    cosines = (np.arange(count) + 0.5) / count
    u, v = (x.reshape(-1) for x in np.meshgrid((np.arange(48) + 0.5) / 48, (np.arange(48) + 0.5) / 48))
    given = np.empty(count)
    for k, c in enumerate(cosines):
        view = np.array([np.sqrt(1 - c * c), 0.0, c])
        stretched = view * (alpha, alpha, 1)
        stretched /= np.linalg.norm(stretched)
        radius, turn = np.sqrt(u), 2 * np.pi * v
        a, b = radius * np.cos(turn), radius * np.sin(turn)
        s = (1 + stretched[2]) / 2
        across = np.array([0.0, 1.0, 0.0])  # the view lies in the plane of x and z
        second = np.cross(stretched, across)
        b = (1 - s) * np.sqrt(np.maximum(1 - a * a, 0)) + s * b
        facet = (
            a[:, None] * across + b[:, None] * second + np.sqrt(np.maximum(1 - a * a - b * b, 0))[:, None] * stretched
        )
        facet *= (alpha, alpha, 1)
        facet[:, 2] = np.maximum(facet[:, 2], 0)
        facet /= np.linalg.norm(facet, axis=1, keepdims=True)
        meets = np.clip(facet @ view, 0, 1)
        out = 2 * meets * facet[:, 2] - c
        share = _smith(np.maximum(out, 1e-6), alpha) * (out > 0)
        given[k] = float((share * (1.0 if ior is None else fresnel(meets, ior))).mean())
    return cosines, given


def at_front(alpha: float, ior: float | None) -> float:
    """The share that is given back at right angles."""
    cosines, given = directional(alpha, ior)
    return float(
        np.interp(1.0, cosines, given) + (given[-1] - given[-2]) / (cosines[-1] - cosines[-2]) * (1 - cosines[-1])
    )


def over_all(alpha: float, ior: float | None) -> float:
    """The share that is given back of light from everywhere."""
    cosines, given = directional(alpha, ior)
    return float((given * cosines).sum() / cosines.sum())


@dataclass(frozen=True)
class Coated:
    """A rough dielectric coat over a base that scatters.

    ior : refractive index of the coat
    alpha : width of its GGX lobe; the roughness of glTF and of the live view is its root
    coat : share of even light that the coat alone gives back to the front
    even, falling : shares of the base that are Lambertian, and that fall towards the rim as under a smooth coat. With the coat they add
        up to what a lossless thing must give back at every angle (Kelemen & Szirmay-Kalos 2001 couple a base so)
    share : of the coat's own reflection that is there
    """

    ior: float
    alpha: float
    coat: float
    even: float
    falling: float
    share: float = 1.0

    def base(self, colour: Colour) -> Colour:
        """Colour of the base (3,) that, under the coat, shows the one that is chosen; never quite black, which the tracer's model is not made for."""
        r, g, b = (max((value - self.coat) / (1 - self.coat), 1e-6) for value in colour)
        return r, g, b


@lru_cache(maxsize=256)
def coated(alpha: float, ior: float, share: float = 1.0) -> Coated:
    """A coat of which a share is there, and the two parts of the base that make up for it at every angle as well as two can."""
    cosines, given = directional(alpha, ior)
    given = share * given
    through = 1 - fresnel(cosines, UNDER)
    front = share * at_front(alpha, ior)
    straight = float(1 - fresnel(np.ones(()), UNDER))
    # nothing is lost or made at the front; the rest is fitted up to 75°
    weights = np.where(cosines > 0.25, cosines, 0.0)
    bent, missing = through - straight, 1 - given - (1 - front)
    falling = float((weights * bent * missing).sum() / (weights * bent * bent).sum())
    falling = min(falling, (1 - front) / straight)
    return Coated(ior, alpha, front, 1 - front - falling * straight, falling, share)
