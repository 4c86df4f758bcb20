"""Who may import whom (docs/architecture.md), and other rules of the house."""

from __future__ import annotations

import ast
import json
import os
import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
PACKAGE = ROOT / "src" / "hollow_marble"
MAY = {
    "core": set(),
    "documents": {"core"},
    "store": {"core", "documents"},
    "exchange": {"core", "documents"},
    "jobs": {"core", "documents", "store"},
    "demo": {"core", "documents", "store"},
    "web": {"core", "documents", "store", "exchange", "jobs"},
}
"""Every layer may also use `core.errors` and the version; `cli` and `exporting` may use all."""


def _imports(path: Path) -> list[str]:
    found = []
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.ImportFrom) and node.module and node.level == 0:
            found.append(node.module)
        elif isinstance(node, ast.Import):
            found += [name.name for name in node.names]
    return [name for name in found if name.startswith("hollow_marble.")]


@pytest.mark.parametrize("layer", MAY)
def test_imports_follow_the_table(layer: str) -> None:
    wrong = []
    for path in (PACKAGE / layer).rglob("*.py"):
        for name in _imports(path):
            target = name.split(".")[1]
            if target != layer and target not in MAY[layer]:
                wrong.append(f"{path.relative_to(PACKAGE)} imports {name}")
    assert wrong == []


def test_the_core_touches_no_files_clock_or_interface() -> None:
    banned = {"flask", "sqlite3", "pathlib", "time", "datetime", "requests", "subprocess", "tempfile", "click"}
    wrong = []
    for path in (PACKAGE / "core").rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            names = (
                [n.name for n in node.names]
                if isinstance(node, ast.Import)
                else [node.module or ""]
                if isinstance(node, ast.ImportFrom)
                else []
            )
            wrong += [f"{path.name}: {name}" for name in names if name.split(".")[0] in banned]
    assert wrong == []


def test_stages_of_the_interface_do_not_import_one_another() -> None:
    wrong = []
    stages = ROOT / "frontend" / "src" / "stages"
    for path in stages.rglob("*.ts*"):
        own = path.relative_to(stages).parts[0]
        for line in path.read_text().splitlines():
            found = re.search(r'from "(\.[^"]+)"', line)
            if found:
                target = Path(os.path.normpath(path.parent / found.group(1)))
                if target.is_relative_to(stages) and target.relative_to(stages).parts[0] != own:
                    wrong.append(f"{path.name}: {line}")
    assert wrong == []


def test_only_one_file_names_colours() -> None:
    """Tokens live in app.css; elsewhere a #rrggbb is a pigment of the product or of the plaster."""
    import re

    wrong = []
    for path in (ROOT / "frontend" / "src").rglob("*.css"):
        if path.name != "app.css" and re.search(r"#[0-9a-fA-F]{6}", path.read_text()):
            wrong.append(path.name)
    assert wrong == []


def test_the_interfaces_types_are_those_of_the_server() -> None:
    from hollow_marble.web.app import openapi_document

    kept = (ROOT / "frontend" / "src" / "api" / "openapi.json").read_text()
    assert json.loads(kept) == json.loads(openapi_document()), (
        "run: .venv/bin/hollow-marble openapi -o frontend/src/api/openapi.json"
    )


def test_lock_files_hold_no_addresses() -> None:
    assert '"resolved"' not in (ROOT / "frontend" / "package-lock.json").read_text()
    assert "http" not in (ROOT / "requirements.lock").read_text()


def test_every_package_says_what_it_is() -> None:
    silent = [
        str(path.relative_to(PACKAGE))
        for path in PACKAGE.rglob("*.py")
        if path.read_text().strip() and not ast.get_docstring(ast.parse(path.read_text()))
    ]
    assert silent == []
