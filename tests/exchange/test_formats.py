"""Open formats, read back by independent readers."""

from __future__ import annotations

import io
import xml.etree.ElementTree as ElementTree

import numpy as np
import pygltflib
import pytest
import trimesh
from PIL import Image

from hollow_marble.core.cage import starts
from hollow_marble.core.cage.extrusions import extrude_faces
from hollow_marble.core.cage.mesh import with_creases
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.studio.colour import hex_to_linear
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.form.starts import BoxStart
from hollow_marble.documents.sheet import edits as sheet_edits
from hollow_marble.documents.studio.model import Finish
from hollow_marble.documents.studio.staging.scenes import look_in
from hollow_marble.exchange.forms import Cover, export
from hollow_marble.exchange.meshes import read_mesh
from hollow_marble.exchange.obj import MOST_FACES, cage_to_obj, obj_to_cage
from hollow_marble.exchange.pictures import png, read_picture
from hollow_marble.exchange.svg import sheet_svg
from tests.documents.test_sheet import Desk

BODY = Part(id="b", name="Body", steps=(BoxStart(size=(60, 30, 100), divisions=(2, 2, 3)),))
CAP = Part(id="c", name="Cap", steps=(BoxStart(size=(10, 10, 10), divisions=(1, 1, 1)),))


def _evaluator() -> FormEvaluator:
    return FormEvaluator(lambda sha: b"")


@pytest.mark.parametrize("kind", ["stl", "ply"])
def test_stl_and_ply_keep_volume_and_bounds(kind: str) -> None:
    evaluator = _evaluator()
    form = Form(parts=(BODY,))
    size = evaluator.size(form)
    mesh = trimesh.load(io.BytesIO(export(form, evaluator, kind)), file_type=kind)
    assert mesh.is_watertight
    assert mesh.is_winding_consistent
    assert mesh.volume == pytest.approx(size.volume, rel=1e-5)
    assert np.allclose(mesh.extents, (size.width, size.depth, size.height), atol=1e-4)


def test_gltf_is_in_metres_with_y_up_and_unit_normals() -> None:
    """ISO/IEC 12113 (glTF 2.0), 3.4: metres, +Y up."""
    evaluator = _evaluator()
    form = Form(parts=(BODY, CAP))
    scene = trimesh.load(io.BytesIO(export(form, evaluator, "glb")), file_type="glb")
    assert set(scene.geometry) == {"Body", "Cap"}
    body = scene.geometry["Body"]
    size = evaluator.size(Form(parts=(BODY,)))
    assert np.allclose(body.extents * 1000, (size.width, size.height, size.depth), atol=1e-3)
    assert np.allclose(np.linalg.norm(body.vertex_normals, axis=1), 1, atol=1e-3)
    merged = body.copy()
    merged.merge_vertices(merge_norm=True, merge_tex=True)
    assert merged.volume * 1e9 == pytest.approx(size.volume, rel=1e-4)


def test_gltf_carries_names_and_finishes() -> None:
    """Metal and roughness as glTF 2.0 says them, glass by KHR_materials_transmission and KHR_materials_ior; read by an independent reader."""
    kinds = {"m": "matte plastic", "p": "polished metal", "g": "clear glass", "r": "rubber"}
    parts = tuple(replaced_part(CAP, ident, kind.title()) for ident, kind in kinds.items())
    finishes = {ident: Finish(material=kind, colour="#86A48B") for ident, kind in kinds.items()}  # type: ignore[arg-type]
    form = Form(parts=parts)
    looks = {ident: look_in(finish, _evaluator()) for ident, finish in finishes.items()}
    data = export(
        form, _evaluator(), "glb", dress=lambda part, mesh: [Cover(part.name, mesh.triangles, looks[part.id])]
    )
    document = pygltflib.GLTF2.load_from_bytes(data)
    assert [node.name for node in document.nodes] == [kind.title() for kind in kinds.values()]
    found = {material.name: material for material in document.materials}
    chosen = hex_to_linear("#86A48B")
    metal = found["Polished Metal"].pbrMetallicRoughness
    assert metal.metallicFactor == 1
    assert metal.baseColorFactor[:3] == pytest.approx(chosen)
    for name, rough in (("Matte Plastic", 0.566), ("Rubber", 0.707), ("Polished Metal", 0.265), ("Clear Glass", 0)):
        assert found[name].pbrMetallicRoughness.roughnessFactor == pytest.approx(rough, abs=1e-3)
    # what even light gives back to the front: the coat's share and, of the rest, the base's
    matte = np.array(found["Matte Plastic"].pbrMetallicRoughness.baseColorFactor[:3])
    assert 0.0338 + (1 - 0.0338) * matte == pytest.approx(chosen, abs=1e-4)
    assert found["Clear Glass"].extensions["KHR_materials_transmission"] == {"transmissionFactor": 1.0}
    assert found["Rubber"].extensions["KHR_materials_ior"] == {"ior": 1.3}
    assert set(document.extensionsUsed) == {"KHR_materials_transmission", "KHR_materials_ior"}


def replaced_part(part: Part, ident: str, name: str) -> Part:
    return part.model_copy(update={"id": ident, "name": name})


def test_an_obj_of_a_cage_says_what_it_leaves_out_and_the_skin_goes_out_too() -> None:
    creased = with_creases(starts.box((10, 10, 10), (1, 1, 1)), {(0, 1): 2.0, (1, 1): 1.0})
    head = cage_to_obj(creased, "Cap").decode().splitlines()[:2]
    assert head[1] == "# 2 creases and sharp corners are left out: this format has no place for them, PLY has"
    assert "left out" not in cage_to_obj(starts.box((10, 10, 10), (1, 1, 1)), "Cap").decode()
    evaluator = _evaluator()
    mesh = trimesh.load(io.BytesIO(export(Form(parts=(BODY,)), evaluator, "skin.obj")), file_type="obj", force="mesh")
    size = evaluator.size(Form(parts=(BODY,)))
    assert mesh.is_watertight
    assert mesh.volume == pytest.approx(size.volume, rel=1e-5)


def test_a_cage_returns_from_obj_to_the_last_bit() -> None:
    cage = extrude_faces(starts.box((31.0, 17.3, 55.1), (2, 1, 3)), [0, 3], 4.7)
    again = obj_to_cage(cage_to_obj(cage, "my part"), "part.obj")
    assert again.points.tobytes() == cage.points.tobytes()
    assert again.face_points.tolist() == cage.face_points.tolist()


def test_obj_reads_negative_numbers_and_texture_corners() -> None:
    text = b"v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf -4/1/1 -3/2 -2//3 -1\n"
    assert obj_to_cage(text, "x.obj").face(0).tolist() == [0, 1, 2, 3]


@pytest.mark.parametrize(
    ("text", "words"),
    [
        (b"", "no faces"),
        (b"v 0 0 zero\nf 1 2 3\n", "Line 1 of"),
        (b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n", "does not exist"),
        (b"v 0 0 0\nv 1 0 0\nv 0 nan 0\nf 1 2 3\n", "not a number"),
        (b"v 0 0 0\nv 1 0 0\nv 0 1 0\n" + b"f 1 2 3\n" * (MOST_FACES + 1), "more than 50,000"),
        (b"\xff\xfe\x00garbage", "no faces"),
    ],
)
def test_obj_files_that_will_not_do_are_refused_in_a_sentence(text: bytes, words: str) -> None:
    with pytest.raises(HollowMarbleError, match=words):
        obj_to_cage(text, "part.obj")


def test_an_obj_holds_one_part() -> None:
    with pytest.raises(HollowMarbleError, match="one part"):
        export(Form(parts=(BODY, CAP)), _evaluator(), "obj")
    assert export(Form(parts=(BODY, CAP)), _evaluator(), "obj", "c").startswith(b"# cage of Cap")
    with pytest.raises(HollowMarbleError, match="nothing to export"):
        export(Form(), _evaluator(), "stl")


def test_meshes_are_read_back_welded() -> None:
    data = export(Form(parts=(BODY,)), _evaluator(), "stl")
    points, triangles = read_mesh(data, "stl", "body.stl")
    assert len(points) == len(triangles) // 2 + 2, "closed and of genus nought"
    with pytest.raises(HollowMarbleError, match=r"cannot be read|no triangles"):
        read_mesh(b"solid nonsense", "stl", "bad.stl")


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "TIFF"])
def test_pictures_come_in_upright(kind: str) -> None:
    pixels = np.zeros((30, 50, 3), np.uint8)
    pixels[:, :25] = (200, 40, 40)
    file = io.BytesIO()
    Image.fromarray(pixels).save(file, kind)
    data, width, height = read_picture(file.getvalue(), f"a.{kind.lower()}")
    assert (width, height) == (50, 30)
    read = np.asarray(Image.open(io.BytesIO(data)).convert("RGB")).astype(int)
    assert np.abs(read[15, 5] - (200, 40, 40)).max() < 12


def test_a_turned_photograph_is_set_upright() -> None:
    """Exif orientation 6: the camera was held on its side."""
    file = io.BytesIO()
    exif = Image.Exif()
    exif[0x0112] = 6
    Image.fromarray(np.zeros((30, 50, 3), np.uint8)).save(file, "JPEG", exif=exif)
    assert read_picture(file.getvalue(), "phone.jpg")[1:] == (30, 50)


def test_bad_pictures_are_refused_in_a_sentence() -> None:
    whole = png(np.random.default_rng(1).integers(0, 255, (200, 200, 3)).astype(np.uint8))
    with pytest.raises(HollowMarbleError, match="damaged or cut short"):
        read_picture(whole[: len(whole) // 2], "half.png")
    with pytest.raises(HollowMarbleError, match="not a PNG, JPEG, TIFF or WebP"):
        read_picture(b"GIF89a" + bytes(40), "a.gif")
    file = io.BytesIO()
    Image.new("1", (40_000, 40)).save(file, "PNG")
    with pytest.raises(HollowMarbleError, match="40,000 × 40 px, too large"):
        read_picture(file.getvalue(), "long.png")


def test_svg_lines_lie_where_the_ink_lies() -> None:
    desk = Desk()
    desk.do(desk.stroke([(100, 100), (300, 140), (420, 80)], size=10))
    desk.do(desk.stroke([(200, 60), (200, 200)], "lifter", 24))
    desk.do(sheet_edits.ChangeLayer(layer="rough", name="A & B"))
    root = ElementTree.fromstring(sheet_svg(desk.sheet, desk.assets.__getitem__))
    space = {"s": "http://www.w3.org/2000/svg"}
    assert (root.get("width"), root.get("height")) == ("600", "400")
    paths = root.findall(".//s:path", space)
    assert len(paths) == 2
    line = next(p for p in root.findall(".//s:g", space) if p.get("fill") == "#20282B").find("s:path", space)
    numbers = np.array([part.split() for part in line.get("d")[1:-1].split("L")], float)
    assert numbers[:, 0].min() == pytest.approx(100, abs=6)
    assert numbers[:, 0].max() == pytest.approx(420, abs=6)
    assert root.find(".//s:mask", space) is not None, "the lifter masks what lies below"
    assert any(g.get("data-name") == "A & B" for g in root.iter("{http://www.w3.org/2000/svg}g"))


def test_hidden_layers_are_not_in_the_svg() -> None:
    desk = Desk()
    desk.do(desk.stroke([(100, 100), (300, 140)]))
    desk.do(sheet_edits.ChangeLayer(layer="rough", visible=False))
    assert "<path" not in sheet_svg(desk.sheet, desk.assets.__getitem__)
