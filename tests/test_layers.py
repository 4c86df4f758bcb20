"""Who may import whom (docs/architecture.md), and other rules of the house."""

from __future__ import annotations

import ast
import json
import os
import re
from collections.abc import Iterator
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
PACKAGE = ROOT / "src" / "hollow_marble"
MAY = {
    "core": set(),
    "documents": {"core"},
    "store": {"core", "documents"},
    "exchange": {"core", "documents"},
    "jobs": {"core", "documents", "store", "exchange"},
    "application": {"core", "documents", "store", "exchange", "jobs"},
    "demo": {"core", "documents", "store", "jobs", "application"},
    "web": {"core", "documents", "store", "exchange", "jobs", "application", "demo"},
}
"""Every layer may also use the version; `cli` may use all."""


def _imports(path: Path) -> list[str]:
    """Full names of all that a module imports, relative and package imports made absolute."""
    return list(_named(ast.parse(path.read_text()), path.relative_to(PACKAGE.parent).parts[:-1]))


def _named(tree: ast.AST, package: tuple[str, ...]) -> Iterator[str]:
    for node in ast.walk(tree):
        if isinstance(node, ast.ImportFrom):
            above = package[: len(package) - node.level + 1] if node.level else ()
            base = ".".join([*above, *([node.module] if node.module else [])])
            yield from (f"{base}.{name.name}" for name in node.names)
        elif isinstance(node, ast.Import):
            yield from (name.name for name in node.names)


def _against(tree: ast.AST, package: tuple[str, ...], layer: str) -> list[str]:
    """What a module of a layer imports from layers it may not know."""
    layers = [name.split(".")[1] for name in _named(tree, package) if name.startswith("hollow_marble.")]
    known = {*MAY, "cli"}
    return [name for name in layers if name in known and name != layer and name not in MAY[layer]]


@pytest.mark.parametrize("layer", MAY)
def test_imports_follow_the_table(layer: str) -> None:
    wrong = []
    for path in (PACKAGE / layer).rglob("*.py"):
        package = path.relative_to(PACKAGE.parent).parts[:-1]
        wrong += [
            f"{path.relative_to(PACKAGE)}: {name}" for name in _against(ast.parse(path.read_text()), package, layer)
        ]
    assert wrong == []


@pytest.mark.parametrize(
    "line",
    [
        "from hollow_marble.web.app import x",
        "from hollow_marble import web",
        "from .. import web",
        "from ..web import x",
    ],
)
def test_no_way_of_importing_goes_unseen(line: str) -> None:
    assert _against(ast.parse(line), ("hollow_marble", "core"), "core") == ["web"]


def test_layers_are_all_in_the_table() -> None:
    assert {path.parent.name for path in PACKAGE.glob("*/__init__.py")} == set(MAY)


BANNED = {"flask", "sqlite3", "pathlib", "time", "datetime", "requests", "subprocess", "tempfile", "click", "os"}


def test_the_core_touches_no_files_clock_or_interface() -> None:
    wrong = []
    for path in (PACKAGE / "core").rglob("*.py"):
        tree = ast.parse(path.read_text())
        wrong += [f"{path.name}: {name}" for name in _imports(path) if name.split(".")[0] in BANNED]
        wrong += [f"{path.name}: open()" for node in ast.walk(tree) if _opens(node)]
    assert wrong == []


def _opens(node: ast.AST) -> bool:
    return isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "open"


def test_only_the_store_writes() -> None:
    """`ledger.append` is the way anything is written; nobody above opens a write transaction."""
    pattern = re.compile(r"database\.write\(|\.execute(many|script)?\(")
    wrong = [
        f"{path.relative_to(PACKAGE)}: {line.strip()}"
        for path in PACKAGE.rglob("*.py")
        if path.relative_to(PACKAGE).parts[0] != "store"
        for line in path.read_text().splitlines()
        if pattern.search(line)
    ]
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


PIGMENTS = {
    "stages/form/ReferencePlane.tsx",
    "stages/sketch/LayersCard.tsx",
    "stages/sketch/PageCard.tsx",
    "stages/sketch/useInk.ts",
    "stages/sketch/notes/NotesCard.tsx",
    "stages/sketch/store.ts",
    "stages/studio/finish/FinishCard.tsx",
    "view3d/Plaster.tsx",
}
"""Files that name colours of page, ink, plaster or product: pigments, which no theme changes."""


def test_only_one_file_names_colours() -> None:
    """Tokens live in app.css; elsewhere a #rrggbb is a pigment."""
    source = ROOT / "frontend" / "src"
    wrong = []
    for path in (*source.rglob("*.css"), *source.rglob("*.ts*")):
        where = path.relative_to(source).as_posix()
        if where not in {"app.css", "api/schema.ts", *PIGMENTS}:
            wrong += [f"{where}: {found}" for found in re.findall(r"#[0-9a-fA-F]{6}\b", path.read_text())]
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
