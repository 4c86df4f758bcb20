"""The command line: what it writes, what it says, how it ends."""

from __future__ import annotations

import io
import json
import socket
from pathlib import Path

import numpy as np
import pytest
import trimesh
from click.testing import CliRunner, Result
from PIL import Image

from hollow_marble.application.exporting import KINDS
from hollow_marble.cli import export as export_command
from hollow_marble.cli import main
from hollow_marble.demo.designer import Designer
from hollow_marble.demo.studio import light_studio
from hollow_marble.documents.form.checking import Accepted, AcceptFinding, SetChecking
from hollow_marble.documents.form.starts import BoxStart
from hollow_marble.exchange.openraster import read_openraster
from hollow_marble.exchange.ply import ply_to_cage
from hollow_marble.store.library import Library

BOX = """v -1 -1 -1\nv 1 -1 -1\nv 1 1 -1\nv -1 1 -1\nv -1 -1 1\nv 1 -1 1\nv 1 1 1\nv -1 1 1
f 1 4 3 2\nf 5 6 7 8\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 5 8\n"""


@pytest.fixture(scope="module")
def data(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data folder with a small product: a stroke, a box, a shot."""
    folder = tmp_path_factory.mktemp("cli")
    library = Library(folder)
    project = library.create("Linnet", "Alder Row")
    designer = Designer(project)
    t = np.linspace(0, 1, 40)
    line = np.stack([300 + 900 * t, 400 + 200 * t, 0.2 + 0.6 * t, 0 * t], axis=1).astype(np.float32)
    designer.draw(designer.document("sheet"), line, layer="rough")
    form = designer.document("form")
    designer.start(form, "body", "Body", BoxStart(size=(62.0, 34.0, 108.0), divisions=(2, 2, 3)))
    light_studio(designer, form)
    library.close()
    return folder


def run(*words: object) -> Result:
    return CliRunner().invoke(main, [str(word) for word in words])


def test_help_teaches_every_command() -> None:
    said = run("--help")
    assert said.exit_code == 0
    for command in ("serve", "demo", "render", "check", "export", "bench"):
        assert command in said.output
        assert run(command, "--help").exit_code == 0
    assert "Exit codes" in said.output
    assert "hollow-marble render Linnet" in said.output


def test_check_calls_a_sound_box_sound(tmp_path: Path) -> None:
    file = tmp_path / "box.obj"
    file.write_text(BOX)
    said = run("check", file)
    assert said.exit_code == 0, said.output
    assert "12 triangles, 2.0 × 2.0 × 2.0 mm" in said.output
    assert "Sound." in said.output


def test_check_as_json_finds_the_opening_and_ends_with_1(tmp_path: Path) -> None:
    file = tmp_path / "open.obj"
    file.write_text(BOX.rsplit("f ", 1)[0])
    said = run("check", file, "--json")
    assert said.exit_code == 1
    found = json.loads(said.output)
    assert found["closed"] is False
    assert found["counts"]["opening"] == 1
    (finding,) = found["findings"]
    assert finding["amount"] == pytest.approx(8.0)  # four edges of 2 mm
    assert finding["place"] == pytest.approx([-1, 0, 0])


def test_check_cage_looks_at_the_skin(tmp_path: Path) -> None:
    """A cube of 2 mm: one step gives the face's middle 1, edge points 3/4, corners 5/9 along its normal; the limit mask of
    valence 4 (16, 4, 1)/36 (Halstead et al. 1993) then gives (16 + 4·4·3/4 + 4·5/9)/36 of half the side."""
    file = tmp_path / "cage.obj"
    file.write_text(BOX)
    found = json.loads(run("check", file, "--cage", "--json").output)
    assert found["closed"]
    assert found["manifold"]
    assert found["size"]["width"] == pytest.approx(2 * (16 + 12 + 20 / 9) / 36)
    assert found["triangles"] == 6 * 64 * 2


@pytest.mark.parametrize(
    ("name", "text", "words"),
    [
        ("notes.txt", "hello", "is not an OBJ, STL or PLY file"),
        ("empty.obj", "", "empty.obj holds no triangles"),
        ("torn.stl", "solid x\nfacet", "torn.stl holds no triangles"),
    ],
)
def test_check_refuses_what_is_no_mesh_in_a_sentence(tmp_path: Path, name: str, text: str, words: str) -> None:
    file = tmp_path / name
    file.write_text(text)
    said = run("check", file)
    assert said.exit_code == 2
    assert said.output.startswith("Error: ")
    assert words in said.output
    assert "Traceback" not in said.output


def test_check_cage_needs_an_obj(tmp_path: Path) -> None:
    file = tmp_path / "box.stl"
    trimesh.creation.box().export(file)
    said = run("check", file, "--cage")
    assert (said.exit_code, said.output) == (2, "Error: A cage is read from an OBJ file.\n")


@pytest.mark.parametrize("kind", ["glb", "stl", "ply"])
def test_export_writes_the_skin(data: Path, tmp_path: Path, kind: str) -> None:
    file = tmp_path / f"body.{kind}"
    said = run("export", "Linnet", "--format", kind, "-o", file, "--data", data)
    assert said.exit_code == 0, said.output
    mesh = trimesh.load(file, force="mesh")
    scale = 1000 if kind == "glb" else 1
    low, high = mesh.bounds * scale
    assert sorted(high - low) == pytest.approx([34, 62, 108], abs=1e-3)
    mesh.merge_vertices(merge_norm=True)
    assert mesh.is_watertight


def test_export_writes_cage_and_page(data: Path, tmp_path: Path) -> None:
    cage, page, lines = tmp_path / "cage.obj", tmp_path / "page.png", tmp_path / "lines.svg"
    for kind, file in (("obj", cage), ("png", page), ("svg", lines)):
        said = run("export", "linnet", "--format", kind, "-o", file, "--data", data)
        assert said.exit_code == 0, said.output
    assert cage.read_text().count("\nf ") == 2 * (4 + 6 + 6)
    picture = np.asarray(Image.open(page).convert("L"))
    assert picture.shape == (1600, 2400)
    assert picture[500, 750] < picture[100, 100] - 40  # ink where the stroke is
    assert "<path" in lines.read_text()


def test_export_writes_all_that_the_interface_does(data: Path, tmp_path: Path) -> None:
    assert set(export_command.params[1].type.choices) == set(KINDS)  # type: ignore[attr-defined]
    files = {kind: tmp_path / f"linnet.{kind}" for kind in ("cage.ply", "pdf", "ora", "png")}
    for kind, file in files.items():
        scale = ("--scale", "2") if kind == "png" else ()
        said = run("export", "Linnet", "--format", kind, *scale, "-o", file, "--data", data)
        assert said.exit_code == 0, said.output
    assert ply_to_cage(files["cage.ply"].read_bytes(), "x").face_count == 2 * (4 + 6 + 6)
    assert files["pdf"].read_bytes().startswith(b"%PDF-")
    layers, width, height = read_openraster(files["ora"].read_bytes(), "x.ora")
    assert (width, height, layers[0].name) == (2400, 1600, "Paper")
    assert Image.open(files["png"]).size == (4800, 3200)


def test_export_names_what_is_there(data: Path, tmp_path: Path) -> None:
    file = tmp_path / "x.obj"
    said = run("export", "Linnet", "--format", "obj", "--name", "Lid", "-o", file, "--data", data)
    assert (said.exit_code, said.output) == (1, "Error: There is no part named Lid. Parts here: Body.\n")
    said = run("export", "Wren", "--format", "png", "-o", file, "--data", data)
    assert said.exit_code == 1
    assert "There is no project named Wren. Projects here: Linnet." in said.output
    assert not file.exists()


def test_render_writes_a_picture_of_the_size_asked(data: Path, tmp_path: Path) -> None:
    file = tmp_path / "hero.png"
    said = run(
        "render", "Linnet", "--shot", "hero", "--size", "120x80", "--quality", "draft", "-o", file, "--data", data
    )
    assert said.exit_code == 0, said.output
    assert "120 × 80, 8 samples" in said.output
    picture = np.asarray(Image.open(file).convert("RGB")).astype(float)
    assert picture.shape == (80, 120, 3)
    # Moss stands in the middle of a lighter sweep (demo finishes): greener than it is red, darker than beside it
    middle, beside = picture[30:50, 55:65].mean(axis=(0, 1)), picture[30:50, 4:14].mean(axis=(0, 1))
    assert middle[1] > middle[0]
    assert middle.mean() < beside.mean()


def test_a_port_in_use_is_said_plainly(tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        said = run("serve", "--data", tmp_path, "--port", port)
    assert said.exit_code == 1
    assert f"Error: Port {port} is in use" in said.output
    assert "--port" in said.output


def test_render_says_what_it_does_not_understand(data: Path, tmp_path: Path) -> None:
    file = tmp_path / "x.png"
    said = run("render", "Linnet", "--shot", "Side", "-o", file, "--data", data)
    assert (said.exit_code, said.output) == (
        1,
        "Error: There is no shot named Side. Shots here: Hero, Dial, Rim, Noon, Front.\n",
    )
    for size in ("big", "8x8", "99999x10", "10"):
        said = run("render", "Linnet", "--shot", "Hero", "--size", size, "-o", file, "--data", data)
        assert said.exit_code == 2
    assert not file.exists()


def test_bench_gives_a_list_with_peer_ratio_and_target(monkeypatch: pytest.MonkeyPatch) -> None:
    said = CliRunner().invoke(main, ["bench", "--only", "ink.stamping", "--json"])
    found = json.load(io.StringIO(said.stdout))
    assert found
    for result in found:
        assert set(result) == {"name", "unit", "ours", "peer", "peer_name", "ratio", "target", "holds"}
        assert result["target"] == f"≤ {result['peer']:g} {result['unit']}", "a limit is its own peer"
        assert result["holds"] is (result["ours"] <= result["peer"])
    assert said.exit_code == (0 if all(result["holds"] for result in found) else 3)


def test_a_ratio_says_how_many_times_the_peer_takes() -> None:
    from benchmarks.measure import Result, within

    assert Result("skin", "ms", 2.0, 10.0, "another library", "ratio ≥ 4", True).as_json()["ratio"] == 5.0
    assert within("skin", "ms", 2.0, 1.0).holds is False


def test_the_openapi_document_in_the_repository_is_current(tmp_path: Path) -> None:
    file = tmp_path / "openapi.json"
    assert run("openapi", "-o", file).exit_code == 0
    kept = Path(__file__).parents[1] / "frontend/src/api/openapi.json"
    assert json.loads(file.read_text()) == json.loads(kept.read_text())


def test_check_says_of_a_form_what_the_report_says_and_ends_with_1_until_it_is_accepted(
    data: Path, tmp_path: Path
) -> None:
    library = Library(data)
    project = library.named("Linnet")
    form = project.ledger.rows("form")[0].id
    Designer(project).edit(form, SetChecking(around=1.0))  # so strict that its eight odd points are beyond
    library.close()
    file = tmp_path / "linnet.json"
    said = run("check", "Linnet", "--data", data, "--report", file)
    found = json.loads(file.read_text())
    assert (said.exit_code, found["open"]) == (1, 1), said.output
    for finding in found["findings"]:
        assert f"{finding['part']}: {finding['sentence']}" in said.output
    library = Library(data)
    designer = Designer(library.named("Linnet"))
    for finding in found["findings"]:
        told = {name: finding[name] for name in ("id", "amount", "sentence")}
        designer.edit(form, AcceptFinding(accepted=Accepted(**told, reason="Meant so.")))
    library.close()
    again = run("check", "Linnet", "--data", data, "--json")
    assert again.exit_code == 0, again.output
    assert json.loads(again.output[again.output.index("{") :])["open"] == 0


def test_check_of_what_is_not_there_ends_with_2(data: Path, tmp_path: Path) -> None:
    said = run("check", "Wren", "--data", data)
    assert said.exit_code == 2
    assert said.output.startswith("Error: ")
    odd = run("check", "Linnet", "--data", data, "--report", tmp_path / "linnet.doc")
    assert (odd.exit_code, "End it with .pdf" in odd.output) == (2, True)
