"""Artwork: SVG drawn once, and refused where it would run or fetch anything."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.exchange.artwork import LONGEST_SIDE, read_artwork

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 40 20">'


def svg(inside: str) -> bytes:
    return f"{HEAD}{inside}</svg>".encode()


def test_a_drawing_comes_in_at_its_proportions_with_clear_ground() -> None:
    data, width, height = read_artwork(svg('<rect x="0" y="0" width="20" height="20" fill="#c00"/>'), "half.svg")
    assert (width, height) == (LONGEST_SIDE, LONGEST_SIDE // 2)
    pixels = np.asarray(Image.open(io.BytesIO(data)))
    assert pixels[600, 300].tolist() == [204, 0, 0, 255]
    assert pixels[600, 2000, 3] == 0


@pytest.mark.parametrize(
    ("inside", "says"),
    [
        ("<script>alert(1)</script>", "script"),
        ('<rect width="9" height="9" onload="x()"/>', "script"),
        ('<image href="http://127.0.0.1/a.png" width="9" height="9"/>', "fetches"),
        ('<image xlink:href="file:///etc/hostname" width="9" height="9"/>', "fetches"),
        ('<rect width="9" height="9" style="fill:url(http://127.0.0.1/x)"/>', "fetches"),
        ("<style>@import url(http://127.0.0.1/x.css);</style>", "fetches"),
        ('<a href="javascript:x()"><rect width="9" height="9"/></a>', "fetches"),
        ("<foreignObject/>", "foreign"),
        ("<g>", "damaged"),
        ("", "Nothing of"),
    ],
)
def test_what_runs_or_fetches_or_shows_nothing_is_refused(inside: str, says: str) -> None:
    with pytest.raises(HollowMarbleError, match=says):
        read_artwork(svg(inside), "logo.svg")


def test_entities_are_refused_before_they_grow() -> None:
    bomb = b'<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]><svg xmlns="http://www.w3.org/2000/svg">&b;</svg>'
    with pytest.raises(HollowMarbleError, match="entities"):
        read_artwork(bomb, "bomb.svg")
    plain = b'<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "x"><svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 4 4"><rect width="4" height="4"/></svg>'
    assert read_artwork(plain, "old.svg")[1:] == (LONGEST_SIDE, LONGEST_SIDE)


def test_a_picture_keeps_what_is_clear_in_it() -> None:
    file = io.BytesIO()
    Image.new("RGBA", (12, 8), (10, 200, 30, 0)).save(file, "PNG")
    data, width, height = read_artwork(file.getvalue(), "mark.png")
    assert (width, height) == (12, 8)
    assert np.asarray(Image.open(io.BytesIO(data)))[..., 3].max() == 0
