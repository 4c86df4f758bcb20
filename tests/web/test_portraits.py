"""Small pictures of every kind of document at any line of its ledger."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import pytest
from PIL import Image

from hollow_marble.application.portraits.forms import AZIMUTH, DARK, GROUND, PALE, RISE, TOWARDS_LIGHT, draw_form
from hollow_marble.application.portraits.painting import seen
from hollow_marble.application.portraits.studios import lit
from hollow_marble.core.bodies.solid_body import SolidBody
from hollow_marble.core.shelf import Shelf
from hollow_marble.core.solids.solid import here
from hollow_marble.core.studio.emitters import Profile, pieces_of, radiance, rectangle, stand
from hollow_marble.core.surface.pictures import camera_on
from hollow_marble.documents.studio.model import SoftBox
from hollow_marble.documents.studio.staging import StagedLamp
from tests.core import drawn
from tests.web.test_api import Client
from tests.web.test_pasting import draw, head

PLACES = {"sheet": "sheets", "form": "forms", "studio": "studios", "board": "boards", "brief": "briefs"}


def change(client: Client, kind: str) -> None:
    if kind == "sheet":
        draw(client)
    elif kind == "form":
        client.box()
    elif kind == "studio":
        client.box()
        client.edit("build_set", set={"kind": "sweep", "colour": "#305080"})
    elif kind == "brief":
        client.edit("set_envelope", envelope=[62, 34, 108])
    else:
        client.edit("hang_take", take="gone", name="Hero")


def portrait(client: Client, kind: str, at: int, wide: int = 160) -> Any:
    where = client.url(f"documents/{client.ids[kind]}/portrait.png")
    return client.http.get(f"{where}?at={at}&wide={wide}")


@pytest.mark.parametrize("kind", list(PLACES))
def test_a_small_picture_tells_each_line_of_a_ledger(client: Client, kind: str) -> None:
    change(client, kind)
    line = head(client, kind, PLACES[kind])
    before, after = (portrait(client, kind, at) for at in (0, line))
    assert before.mimetype == after.mimetype == "image/png", before.json
    assert before.data != after.data
    assert portrait(client, kind, line).data == after.data


def test_a_studios_picture_shows_the_product_where_the_camera_looks(client: Client) -> None:
    client.box()
    client.edit("set_finish", part="b", name="Body", finish={"material": "matte plastic", "colour": "#C02020"})

    def red() -> Any:
        data = portrait(client, "studio", head(client, "studio", "studios"), 240).data
        pixels = np.asarray(Image.open(io.BytesIO(data)).convert("RGB")).astype(int)
        _rows, columns = np.nonzero(pixels[..., 0] > pixels[..., 1] + 25)
        return columns.mean() / pixels.shape[1], len(columns)

    middle, many = red()
    assert abs(middle - 0.5) < 0.03, "the camera is aimed at it"
    camera = client.http.get(client.url(f"studios/{client.ids['studio']}")).json["body"]["setting"]["camera"]
    client.edit("set_camera", camera={**camera, "distance": camera["distance"] * 2})
    assert 0.15 < red()[1] / many < 0.4, "twice as far away it is a quarter as large"


def test_a_built_ball_of_a_single_face_is_shaded_as_a_ball() -> None:
    """Against the sphere met by each ray of sight: discriminant of |eye + t way| = r (common practice)."""
    radius, size = 40.0, (120, 80)
    ball = here("turned", "b", drawn.drawn(drawn.circle(radius)), drawn.UP, 360.0, True)
    mesh = SolidBody("ball", ball, here, 5, Shelf(10**8)).mesh()
    assert len(mesh.triangles) > 6000
    picture = draw_form([mesh], size).astype(float)
    camera = camera_on([seen(mesh)], AZIMUTH, RISE, *size)
    ways = camera.ways()
    along = -(ways @ camera.eye)
    under = along**2 - camera.eye @ camera.eye + radius**2
    inside = under > 0
    normal = (camera.eye + (along - np.sqrt(np.maximum(under, 0)))[:, None] * ways) / radius
    light = np.clip(0.5 + 0.5 * (normal @ TOWARDS_LIGHT), 0, 1)[:, None]
    due = np.where(inside[:, None], DARK + (PALE - DARK) * light, GROUND).reshape(*picture.shape)
    off = np.abs(picture - due)
    assert np.median(off[inside.reshape(size[1], size[0])]) < 1.0
    assert (off.max(axis=2) > 6).sum() < 2 * 2 * np.pi * 40, "only along its outline"
    assert 0.1 < inside.mean() < 0.8


def test_light_of_a_far_lamp_is_that_of_its_panel() -> None:
    """Against the sum over the pieces of a panel (`core.studio.emitters`), which a far panel's middle comes near to."""
    centre = np.array([0.0, 0.0, 50.0])
    shape, stood = rectangle(200.0, 200.0, Profile(1.0)), stand(-40.0, 35.0, 4000.0, centre)
    glow = radiance(shape, 1.0, 4000.0)
    normal = np.array([0.0, -1.0, 0.0])
    exact = float(pieces_of(shape, stood, glow).onto(centre, normal).sum())
    near = lit(centre[None], normal[None], [StagedLamp(SoftBox(id="key"), shape, stood, np.full(3, glow), ())])
    assert near[0] == pytest.approx(exact, rel=0.01)
