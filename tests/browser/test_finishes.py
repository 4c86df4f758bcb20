"""Finishes as the live view draws them, in the browser's own renderer."""

from __future__ import annotations

from dataclasses import asdict
from pathlib import Path
from typing import Any

import pytest

from hollow_marble.core.studio.finishes import Made, look_of, made_in

pytestmark = pytest.mark.browser

LIBRARY = Path(__file__).parents[2] / "frontend/node_modules/three/build"
KINDS = ("matte plastic", "gloss plastic", "rubber", "enamel", "polished metal", "clear glass", "backdrop")
GREYS = (0.05, 0.1, 0.18, 0.4, 0.6, 0.9)

DRAW = """async (looks) => {
  const T = await import("/three.module.js");
  const renderer = new T.WebGLRenderer();
  renderer.toneMapping = T.NoToneMapping;
  const room = new T.Scene();
  const white = new T.MeshBasicMaterial({ color: new T.Color(1, 1, 1), side: T.BackSide });
  room.add(new T.Mesh(new T.SphereGeometry(50), white));
  const environment = new T.PMREMGenerator(renderer).fromScene(room, 0, 1, 100).texture;
  const target = new T.WebGLRenderTarget(8, 8, { type: T.FloatType });
  const lens = new T.PerspectiveCamera(2, 1, 0.1, 100);
  lens.position.z = 10;
  return looks.map(({ colour, transmission, metalness, roughness, ior, speck }) => {
    const set = new T.Scene();
    set.environment = environment;
    set.background = new T.Color(1, 1, 1);
    const finish = {
      color: new T.Color(...colour), transmission, thickness: 12 * transmission, metalness, roughness, ior, specularIntensity: speck,
    };
    set.add(new T.Mesh(new T.PlaneGeometry(4, 4), new T.MeshPhysicalMaterial(finish)));
    renderer.setRenderTarget(target);
    renderer.render(set, lens);
    const pixels = new Float32Array(4 * 8 * 8);
    renderer.readRenderTargetPixels(target, 0, 0, 8, 8, pixels);
    return pixels[4 * 36];
  });
}"""


def made_of(kind: str, grey: float) -> Made:
    return Made("scatter", (grey,) * 3) if kind == "backdrop" else made_in(kind, (grey,) * 3)


@pytest.fixture(scope="module")
def drawn(browser: Any) -> dict[str, list[float]]:
    page = browser.new_page()
    page.route(
        "http://three.test/**",
        lambda route: (
            route.fulfill(path=LIBRARY / route.request.url.rsplit("/", 1)[1], content_type="text/javascript")
            if route.request.url.endswith(".js")
            else route.fulfill(body="<!doctype html>", content_type="text/html")
        ),
    )
    page.goto("http://three.test/")
    looks = [asdict(look_of(made_of(kind, grey))) for kind in KINDS for grey in GREYS]
    seen = page.evaluate(DRAW, looks)
    page.close()
    return {kind: seen[k * len(GREYS) : (k + 1) * len(GREYS)] for k, kind in enumerate(KINDS)}


@pytest.mark.parametrize("kind", KINDS)
def test_a_card_lit_evenly_is_drawn_at_its_chosen_value(drawn: dict[str, list[float]], kind: str) -> None:
    """The live view within 3 % of what is chosen, and so of a take (`tests/core/test_render.py`)."""
    assert drawn[kind] == pytest.approx(GREYS, rel=0.03)
