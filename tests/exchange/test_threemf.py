"""3MF is read as the core specification says it: a package of named meshes in millimetres; and skins are as fine as is asked for."""

from __future__ import annotations

import io
import xml.etree.ElementTree as ET
import zipfile

import numpy as np
import pytest
import trimesh

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.studio.finishes import Look
from hollow_marble.exchange.meshes import NamedMesh
from hollow_marble.exchange.threemf import threemf

CORE = "{http://schemas.microsoft.com/3dmanufacturing/core/2015/02}"


def _mesh(name: str, shape: trimesh.Trimesh, look: Look | None = None) -> NamedMesh:
    return NamedMesh(name, shape.vertices, shape.faces, **({"look": look} if look else {}))


def test_parts_go_out_by_name_in_millimetres_with_their_colours() -> None:
    red = Look((0.5, 0.0, 0.0), 0.0, 0.5, 1.5, 0.0)
    box, ball = trimesh.creation.box((10, 20, 30)), trimesh.creation.icosphere(3, 5)
    data = threemf([_mesh("Körper & Deckel", box, red), _mesh("Ball", ball)])
    with zipfile.ZipFile(io.BytesIO(data)) as package:
        root = ET.fromstring(package.read("3D/3dmodel.model"))
    assert root.get("unit") == "millimeter"
    bases = [base.attrib for base in root.iter(f"{CORE}base")]
    assert bases[0] == {"name": "Körper & Deckel", "displaycolor": "#BC0000FF"}  # sRGB of 0.5 is 188 (IEC 61966-2-1)
    objects = list(root.iter(f"{CORE}object"))
    assert [one.get("name") for one in objects] == ["Körper & Deckel", "Ball"]
    assert len(list(root.iter(f"{CORE}item"))) == 2
    for one, shape in zip(objects, (box, ball)):
        points = np.array([[float(v.get(k)) for k in "xyz"] for v in one.iter(f"{CORE}vertex")])  # type: ignore[arg-type]
        corners = np.array([[int(t.get(k)) for k in ("v1", "v2", "v3")] for t in one.iter(f"{CORE}triangle")])  # type: ignore[arg-type]
        a, b, c = (points[corners[:, k]] for k in range(3))
        assert (np.cross(a, b) * c).sum() / 6 == pytest.approx(shape.volume, rel=1e-6)


def test_what_is_open_is_not_printed() -> None:
    box = trimesh.creation.box((1, 1, 1))
    with pytest.raises(HollowMarbleError, match="Lid: not closed"):
        threemf([NamedMesh("Lid", box.vertices, box.faces[1:])])
