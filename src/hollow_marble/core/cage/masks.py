"""Weights from a refined neighbourhood to the limit surface at one of its points.

A point's ring is given counter-clockwise: spokes e0..e(n-1) and, between spoke i and i + 1, the opposite corner of
the face there, f(i). Rows of weights are written for position, the two tangents and, where asked and defined, the
second derivatives.

* position and tangents of a smooth point: Halstead, Kass & DeRose 1993, section 4
* along a crease: the uniform cubic B-spline; across it: Biermann, Levin & Zorin 2000, appendix
* second derivatives of a regular point: the uniform bicubic B-spline at a knot, with the row beyond an edge
  mirrored there (the natural end condition that the crease rule stands for)
"""

import math

from numba import njit


@njit(cache=True, nogil=True)
def smooth_point(out, centre, spokes, corners, valence):
    """Rows 0..2 of `out` (rows, K) from rows of the ring; `centre`, `spokes[i]`, `corners[i]` are weight rows."""
    n = valence
    cosine = math.cos(2 * math.pi / n)
    a = 1 + cosine + math.cos(math.pi / n) * math.sqrt(2 * (9 + cosine))
    scale = 1.0 / (n * (n + 5))
    tangent_scale = 1.0 / (a * 3.0)
    for k in range(out.shape[1]):
        position = n * n * centre[k]
        u = 0.0
        v = 0.0
        for i in range(n):
            c0, s0 = math.cos(2 * math.pi * i / n), math.sin(2 * math.pi * i / n)
            c1, s1 = math.cos(2 * math.pi * (i + 1) / n), math.sin(2 * math.pi * (i + 1) / n)
            position += 4 * spokes[i, k] + corners[i, k]
            u += a * c0 * spokes[i, k] + (c0 + c1) * corners[i, k]
            v += a * s0 * spokes[i, k] + (s0 + s1) * corners[i, k]
        out[0, k] = position * scale
        out[1, k] = u * tangent_scale
        out[2, k] = v * tangent_scale


@njit(cache=True, nogil=True)
def crease_point(out, centre, spokes, corners, faces):
    """A point on a crease; spokes 0 and `faces` run along it, `faces` faces lie between them."""
    k_faces = faces
    for k in range(out.shape[1]):
        first, last, middle = spokes[0, k], spokes[faces, k], centre[k]
        out[0, k] = (first + 4 * middle + last) / 6
        out[1, k] = 0.5 * (first - last)
        if k_faces == 1:
            out[2, k] = 0.5 * (first + last) - middle
            continue
        theta = math.pi / k_faces
        cosine, sine = math.cos(theta), math.sin(theta)
        r = (cosine + 1) / sine
        total = 4 * r * (cosine - 1) * middle - r * (1 + 2 * cosine) * (first + last) + sine * corners[0, k]
        for i in range(1, k_faces):
            s0, s1 = math.sin(i * theta), math.sin((i + 1) * theta)
            total += 4 * s0 * spokes[i, k] + (s0 + s1) * corners[i, k]
        out[2, k] = total / (k_faces * (3 + cosine))


@njit(cache=True, nogil=True)
def corner_point(out, centre, spokes, faces):
    """A corner that stays where it is; the tangent plane is that of the first face of the sector."""
    for k in range(out.shape[1]):
        out[0, k] = centre[k]
        out[1, k] = spokes[0, k] - centre[k]
        out[2, k] = spokes[min(1, faces), k] - centre[k]


@njit(cache=True, nogil=True)
def regular_second(out, centre, spokes, corners):
    """Rows 3..5 (uu, uv, vv) of a regular interior point, spoke 0 along +u and spoke 1 along +v."""
    for k in range(out.shape[1]):
        u = spokes[0, k] + spokes[2, k]
        v = spokes[1, k] + spokes[3, k]
        diagonals = corners[0, k] + corners[1, k] + corners[2, k] + corners[3, k]
        out[3, k] = (4 * u - 8 * centre[k] + diagonals - 2 * v) / 6
        out[4, k] = (corners[0, k] - corners[1, k] + corners[2, k] - corners[3, k]) / 4
        out[5, k] = (4 * v - 8 * centre[k] + diagonals - 2 * u) / 6


@njit(cache=True, nogil=True)
def crease_second(out, centre, spokes, corners):
    """Rows 3..5 of a crease point with two faces: u along the crease (spoke 0), v into the surface (spoke 1)."""
    for k in range(out.shape[1]):
        along = spokes[0, k] - 2 * centre[k] + spokes[2, k]
        out[3, k] = along
        inner = 0.5 * (corners[0, k] - corners[1, k])
        outer = 0.5 * (spokes[0, k] - spokes[2, k])
        out[4, k] = inner - outer
        out[5, k] = 0.0
