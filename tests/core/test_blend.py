"""Blend modes, groups, clipping, tints, against W3C Compositing and Blending Level 1 and an independent library."""

from __future__ import annotations

import numpy as np
import pytest
import skia
from hypothesis import example, given, settings
from hypothesis import strategies as st

from hollow_marble.core.ink.blend import MODES, blend_onto, tint
from hollow_marble.core.ink.compose import Plane, on_nothing, on_paper

RECT = (0, 0, 64, 64)


def noise(seed: int) -> np.ndarray:
    """(64, 64, 4) uint8 premultiplied, every alpha among them."""
    random = np.random.default_rng(seed)
    pixels = random.integers(0, 256, (64, 64, 4)).astype(np.float64)
    pixels[:8, :, 3], pixels[8:16, :, 3] = 0, 255
    pixels[..., :3] *= pixels[..., 3:] / 255
    return np.rint(pixels).astype(np.uint8)


def lum(c: np.ndarray) -> np.ndarray:
    return c @ np.array([0.3, 0.59, 0.11])


def clip_colour(c: np.ndarray) -> np.ndarray:
    """ClipColor of section 10, for one colour."""
    level, low, high = lum(c), c.min(), c.max()
    if low < 0:
        c = level + (c - level) * level / (level - low)
    if high > 1:
        c = level + (c - level) * (1 - level) / (high - level)
    return c


def set_lum(c: np.ndarray, level: float) -> np.ndarray:
    return clip_colour(c + (level - lum(c)))


def set_sat(c: np.ndarray, wanted: float) -> np.ndarray:
    """SetSat of section 10: the standard's own sorted form."""
    order = np.argsort(c, kind="stable")
    out = np.zeros(3)
    if c[order[2]] > c[order[0]]:
        out[order[1]] = (c[order[1]] - c[order[0]]) * wanted / (c[order[2]] - c[order[0]])
        out[order[2]] = wanted
    return out


def published(mode: str, b: np.ndarray, s: np.ndarray) -> np.ndarray:
    """B(Cb, Cs) as the standard writes it, for one pixel (3,)."""

    def hard(b: float, s: float) -> float:
        return b * 2 * s if s <= 0.5 else b + (2 * s - 1) - b * (2 * s - 1)

    def soft(b: float, s: float) -> float:
        d = ((16 * b - 12) * b + 4) * b if b <= 0.25 else b**0.5
        return b - (1 - 2 * s) * b * (1 - b) if s <= 0.5 else b + (2 * s - 1) * (d - b)

    def dodge(b: float, s: float) -> float:
        return 0 if b == 0 else 1 if s == 1 else min(1, b / (1 - s))

    def burn(b: float, s: float) -> float:
        return 1 if b == 1 else 0 if s == 0 else 1 - min(1, (1 - b) / s)

    sat = max(b) - min(b)
    whole = {
        "hue": lambda: set_lum(set_sat(s, sat), lum(b)),
        "saturation": lambda: set_lum(set_sat(b, max(s) - min(s)), lum(b)),
        "color": lambda: set_lum(s, lum(b)),
        "luminosity": lambda: set_lum(b, lum(s)),
    }
    if mode in whole:
        return np.asarray(whole[mode]())
    each = {
        "normal": lambda b, s: s,
        "multiply": lambda b, s: b * s,
        "screen": lambda b, s: b + s - b * s,
        "overlay": lambda b, s: hard(s, b),
        "darken": min,
        "lighten": max,
        "color-dodge": dodge,
        "color-burn": burn,
        "hard-light": hard,
        "soft-light": soft,
        "difference": lambda b, s: abs(b - s),
        "exclusion": lambda b, s: b + s - 2 * b * s,
    }[mode]
    return np.array([each(float(x), float(y)) for x, y in zip(b, s)])


UNIT = st.integers(0, 20).map(lambda n: n / 20)
COLOUR = st.tuples(UNIT, UNIT, UNIT)


@pytest.mark.parametrize("mode", MODES)
@settings(max_examples=60, deadline=None)
@example(backdrop=(0.0, 0.0, 1.0), source=(0.0, 0.0, 0.0), ab=0.45, a=0.05, opacity=0.05)
@given(backdrop=COLOUR, source=COLOUR, ab=UNIT, a=UNIT, opacity=UNIT)
def test_every_mode_is_the_published_formula(
    mode: str, backdrop: tuple, source: tuple, ab: float, a: float, opacity: float
) -> None:
    """co = cs·αs·(1 − αb) + αb·αs·B(cb, cs) + (1 − αs)·αb·cb (section 9.1.4, with simple alpha compositing)."""
    b, s = np.array(backdrop), np.array(source)
    below = np.array([*(b * ab), ab], np.float32).reshape(1, 1, 4)
    above = np.array([*(s * a), a], np.float32).reshape(1, 1, 4)
    blend_onto(below, above, mode, opacity)  # type: ignore[arg-type]
    share = a * opacity
    mixed = published(mode, b, s) if ab > 0 else s
    want = share * (1 - ab) * s + share * ab * mixed + (1 - share) * ab * b
    assert below[0, 0, 3] == pytest.approx(share + ab * (1 - share), abs=1e-5)
    assert below[0, 0, :3] == pytest.approx(want, abs=2e-5)


SKIA = {
    "normal": "SrcOver", "multiply": "Multiply", "screen": "Screen", "overlay": "Overlay", "darken": "Darken",
    "lighten": "Lighten", "color-dodge": "ColorDodge", "color-burn": "ColorBurn", "hard-light": "HardLight",
    "soft-light": "SoftLight", "difference": "Difference", "exclusion": "Exclusion", "hue": "Hue",
    "saturation": "Saturation", "color": "Color", "luminosity": "Luminosity",
}  # fmt: skip


def by_skia(stack: list[tuple[np.ndarray, str, float]], paper: tuple[int, int, int]) -> np.ndarray:
    """The same stack laid by Skia in single floats."""
    info = skia.ImageInfo.Make(64, 64, skia.kRGBA_F32_ColorType, skia.AlphaType.kPremul_AlphaType)
    surface = skia.Surface.MakeRaster(info)
    canvas = surface.getCanvas()
    canvas.clear(skia.Color(*paper))
    for pixels, mode, opacity in stack:
        image = skia.Image.fromarray(
            np.ascontiguousarray(pixels), skia.kRGBA_8888_ColorType, skia.AlphaType.kPremul_AlphaType
        )
        paint = skia.Paint(BlendMode=getattr(skia.BlendMode, f"k{SKIA[mode]}"))
        paint.setAlphaf(opacity)
        canvas.drawImage(image, 0, 0, skia.SamplingOptions(), paint)
    out = np.empty((64, 64, 4), np.uint8)
    plain = skia.ImageInfo.Make(64, 64, skia.kRGBA_8888_ColorType, skia.AlphaType.kPremul_AlphaType)
    surface.readPixels(plain, out, 256, 0, 0)
    return out


@pytest.mark.parametrize("mode", MODES)
def test_an_independent_library_agrees_within_1_of_255(mode: str) -> None:
    # nearly clear pixels hold too few bits of colour for modes that divide by it: left to the test above
    below, above = noise(1), noise(2)
    below[below[..., 3] < 100] = above[above[..., 3] < 100] = 0
    ours = on_paper([Plane(below), Plane(above, mode=mode)], (250, 246, 238), RECT)  # type: ignore[arg-type]
    theirs = by_skia([(below, "normal", 1.0), (above, mode, 1.0)], (250, 246, 238))
    apart = np.abs(ours[..., :3].astype(int) - theirs[..., :3])
    assert np.quantile(apart, 0.999) <= 1
    assert apart.max() <= 2


def test_eight_layers_of_mixed_modes_stay_within_2_of_255_of_exact_blending() -> None:
    modes = ["normal", "multiply", "screen", "overlay", "soft-light", "color", "normal", "darken"]
    layers = [(noise(k), modes[k], 0.35 + 0.08 * k) for k in range(8)]
    ours = on_paper([Plane(p, mode=m, opacity=o) for p, m, o in layers], (255, 254, 250), RECT)  # type: ignore[arg-type]
    rows = [(3, 7), (12, 40), (40, 21), (63, 63), (20, 5), (33, 50)]
    for y, x in rows:  # worked out in double precision, pixel by pixel
        c = np.array([255, 254, 250]) / 255
        for pixels, mode, opacity in layers:
            a = pixels[y, x, 3] / 255
            if a == 0:
                continue
            s = pixels[y, x, :3] / 255 / a
            c = a * opacity * published(mode, c, np.minimum(s, 1)) + (1 - a * opacity) * c
        assert np.abs(ours[y, x, :3] - c * 255).max() <= 2


def test_a_group_is_blended_as_one() -> None:
    """Two half-clear layers in a group at half opacity are not each at half opacity."""
    ink = np.zeros((64, 64, 4), np.uint8)
    ink[..., 3] = 255
    group = Plane(parts=(Plane(ink), Plane(ink)), opacity=0.5)
    assert on_paper([group], (255, 255, 255), RECT)[0, 0, 0] in (127, 128)
    apart = [Plane(ink, opacity=0.5), Plane(ink, opacity=0.5)]
    assert on_paper(apart, (255, 255, 255), RECT)[0, 0, 0] == 64


def test_a_clipped_layer_shows_only_where_the_one_below_has_paint() -> None:
    base, above = noise(3), np.zeros((64, 64, 4), np.uint8)
    above[...] = (200, 30, 30, 255)
    whole = on_nothing([Plane(base), Plane(above, clipped=True)], RECT)
    assert np.array_equal(whole[..., 3], base[..., 3])
    solid = base[..., 3] == 255
    assert (whole[solid][:, :3] == (200, 30, 30)).all()
    assert not whole[base[..., 3] == 0].any()


def test_layers_clipped_to_a_hidden_base_do_not_fall_on_what_is_below() -> None:
    above = np.full((64, 64, 4), 255, np.uint8)
    assert not on_nothing([Plane(None), Plane(above, clipped=True)], RECT).any()


def test_a_tint_keeps_every_value() -> None:
    """The luminosity of the standard's Lum() stays as it was; a grey takes the tint's hue."""
    greys = np.ones((1, 101, 4), np.float32)
    greys[..., :3] = np.linspace(0, 1, 101)[None, :, None]
    before = lum(greys[..., :3])
    tint(greys, (0.18, 0.42, 0.31))
    assert lum(greys[..., :3]) == pytest.approx(before, abs=1e-5)
    middle = greys[0, 40, :3]
    assert middle[1] > middle[2] > middle[0], "green most, red least, as in the tint"
    assert greys[..., :3].min() >= -1e-6
    assert greys[..., :3].max() <= 1 + 1e-6


def test_hidden_pixels_of_a_clear_layer_do_nothing() -> None:
    clear = np.zeros((64, 64, 4), np.uint8)
    for mode in MODES:
        page = on_paper([Plane(clear, mode=mode)], (12, 140, 200), RECT)
        assert (page[..., :3] == (12, 140, 200)).all()
