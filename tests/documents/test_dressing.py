"""Finishes as surfaces: what is kept on the shelf is what was asked for."""

import io

import numpy as np
from PIL import Image

from hollow_marble.core.render.scene import Surface
from hollow_marble.core.shelf import Shelf
from hollow_marble.core.studio.sets import Gradient, Pictured
from hollow_marble.documents.studio.model.finish import Finish, Laid
from hollow_marble.documents.studio.model.sets import GroundLook
from hollow_marble.documents.studio.staging.dressing import dressed, surface_of


def _png() -> bytes:
    data = io.BytesIO()
    Image.new("RGB", (4, 4), (180, 120, 90)).save(data, "PNG")
    return data.getvalue()


def test_a_picture_under_a_rougher_coat_is_not_the_one_kept_for_a_smooth_coat() -> None:
    laid = Laid(picture="a" * 64, use="colour", width=40)
    smooth, rough = (
        Finish(material="matte plastic", amounts={"roughness": value}, pictures=(laid,)) for value in (0.05, 0.6)
    )
    load, shelf = lambda name: _png(), Shelf(10**7)
    surface_of(smooth, load, shelf)
    kept = surface_of(rough, load, shelf).colour
    fresh = surface_of(rough, load, Shelf(10**7)).colour
    assert kept is not None
    assert fresh is not None
    np.testing.assert_array_equal(kept.pixels, fresh.pixels)
    other = surface_of(smooth, load, shelf).colour
    assert other is not None
    assert not np.array_equal(other.pixels, kept.pixels)


def test_a_ground_of_any_dress_mirrors_as_much_as_it_is_told_and_keeps_its_colour() -> None:
    """A coat and its base together show the chosen colour at the front (`coats`, checked against the furnace)."""
    ground = GroundLook(reflection=0.5, blur=0.1)
    bare = GroundLook()
    for dress in ("#8899AA", Finish(material="stone", colour="#8899AA"), Gradient(top="#8899AA", bottom="#8899AA")):
        plain, _ = dressed(dress, bare, lambda name: b"", Shelf(10**7))
        glossy, _ = dressed(dress, ground, lambda name: b"", Shelf(10**7))
        coat = glossy.made.coat
        assert coat is not None
        assert coat.share == 0.5

        def seen(surface: Surface) -> np.ndarray:
            base = np.array(surface.made.colour) if surface.colour is None else surface.colour.pixels.mean(axis=(0, 1))
            over = surface.made.coat.coat if surface.made.coat else 0.0
            return over + (1 - over) * base

        np.testing.assert_allclose(seen(glossy), seen(plain), rtol=2e-2)
    metal = Finish(material="polished metal")
    assert dressed(metal, ground, lambda name: b"", Shelf(10**7))[0].made == metal.made()


def test_a_picture_behind_is_as_bright_as_it_is_told() -> None:
    """Above white paper too: more than one had changed nothing."""
    load, shelf = lambda name: _png(), Shelf(10**7)
    once, twice = (dressed(Pictured("a" * 64, value), GroundLook(), load, shelf)[0].colour for value in (1.0, 2.0))
    assert once is not None
    assert twice is not None
    np.testing.assert_allclose(twice.pixels, 2 * once.pixels)
