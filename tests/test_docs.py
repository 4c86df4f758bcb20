"""What the documents promise is there."""

from __future__ import annotations

import json
import re
import tomllib
from pathlib import Path
from typing import get_args

import pytest
from PIL import Image

from hollow_marble.core.drafting.sweeps import FAMILIES, Family
from hollow_marble.core.ink.blend import Mode
from hollow_marble.core.ink.path import PATTERNS
from hollow_marble.core.materials import MATERIALS

ROOT = Path(__file__).parents[1]
PAGES = [ROOT / "README.md", ROOT / "CHANGELOG.md", *sorted((ROOT / "docs").glob("*.md"))]


@pytest.mark.parametrize("page", PAGES, ids=lambda page: page.name)
def test_links_lead_to_files_that_are_there(page: Path) -> None:
    for target in re.findall(r"\]\(([^)#]+)\)", page.read_text()):
        if not target.startswith(("http://", "https://")):
            assert (page.parent / target).exists(), target


def test_every_main_view_has_a_current_picture_and_there_are_not_too_many() -> None:
    pictures = sorted((ROOT / "docs" / "screenshots").glob("*.png"))
    assert {"sketch.png", "form.png", "surface.png", "studio.png", "review.png"} <= {p.name for p in pictures}
    assert len(pictures) < 20
    for picture in pictures:
        if picture.name != "take.png":
            assert Image.open(picture).size == ((820, 1180) if picture.stem == "narrow" else (1280, 800))
        assert f"docs/screenshots/{picture.name}" in (ROOT / "README.md").read_text()


def test_every_python_package_has_its_reason_written_down() -> None:
    project = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]
    reasons = (ROOT / "docs" / "dependencies.md").read_text().casefold()
    known_as = {"opencv-python-headless": "opencv", "mitsuba": "mitsuba 3"}
    for line in [*project["dependencies"], *project["optional-dependencies"]["test"]]:
        name = re.split(r"[<>=\[ ]", line)[0]
        assert known_as.get(name, name).casefold() in reasons, name


def test_locks_hold_hashes_and_no_addresses() -> None:
    lock = (ROOT / "requirements.lock").read_text()
    pinned = re.findall(r"^([a-z0-9._-]+)==", lock, re.M)
    assert len(pinned) > 40
    assert lock.count("--hash=sha256:") >= len(pinned)
    assert "://" not in lock
    for name in ("package-lock.json", "api-types/package-lock.json"):
        packages = json.loads((ROOT / "frontend" / name).read_text())["packages"]
        assert not [key for key, entry in packages.items() if "resolved" in entry and "://" in entry["resolved"]]


def test_the_commands_of_the_readme_are_in_the_makefile() -> None:
    makefile = (ROOT / "Makefile").read_text()
    for target in ("setup", "demo", "test", "lint", "bench"):
        assert re.search(rf"^{target}:", makefile, re.M), target
    assert "make test" in (ROOT / ".ci" / "run").read_text()


def test_the_interface_offers_just_what_the_core_knows() -> None:
    """Lists that stand in both languages: how lines are broken. Choices that the server's document names are taken from it."""
    sketch = ROOT / "frontend" / "src" / "stages" / "sketch"

    def words(text: str, name: str) -> list[str]:
        found = re.search(rf"\b{name}\b[^=]*= \[(.*?)\]", text, re.S)
        assert found is not None, name
        return re.findall(r'"([^"]+)"', found.group(1))

    schemas = json.loads((ROOT / "frontend" / "src" / "api" / "openapi.json").read_text())["components"]["schemas"]
    assert schemas["LayerOutline"]["properties"]["mode"]["enum"] == list(get_args(Mode))
    assert schemas["SweepGuide"]["properties"]["family"]["enum"] == list(get_args(Family)) == list(FAMILIES)
    assert schemas["Part"]["properties"]["material"]["anyOf"][0]["enum"] == list(MATERIALS)
    assert words((sketch / "ToolOptions.tsx").read_text(), "LINES") == list(PATTERNS)
    nibs = (ROOT / "frontend" / "src" / "paper" / "nibs.ts").read_text()
    for line, pattern in PATTERNS.items():
        found = re.search(rf"{line}: \[([^\]]*)\]", nibs)
        assert found is not None, line
        assert [float(x) for x in found.group(1).split(",") if x.strip()] == list(pattern)
