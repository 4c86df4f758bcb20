"""OpenRaster, written and read, and read by an independent reader of its parts."""

from __future__ import annotations

import io
import tracemalloc
import zipfile
from xml.etree import ElementTree

import numpy as np
import pytest
from PIL import Image

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.exchange.layering import premultiplied, straight
from hollow_marble.exchange.openraster import Raster, read_openraster, write_openraster


def picture(*colour: int, size: tuple[int, int] = (12, 20)) -> np.ndarray:
    return np.full((*size, 4), colour, np.uint8)


def stack() -> list[Raster]:
    return [
        Raster("Paper", picture(250, 250, 240, 255)),
        Raster("Körper & Griff", picture(10, 120, 60, 200), (3, -2), True, 0.5, "multiply"),
        Raster("Lines", None, inner=[Raster("Fine", picture(0, 0, 0, 255), visible=False, mode="soft-light")]),
    ]


def written() -> bytes:
    return write_openraster(stack(), picture(200, 200, 200, 255)[..., :3])


def test_what_is_written_is_what_the_standard_asks_for() -> None:
    """OpenRaster 0.0.5: mimetype first and stored, stack.xml, mergedimage.png, a thumbnail of at most 256 px."""
    with zipfile.ZipFile(io.BytesIO(written())) as archive:
        names = archive.namelist()
        assert names[0] == "mimetype"
        assert archive.read("mimetype") == b"image/openraster"
        assert archive.getinfo("mimetype").compress_type == zipfile.ZIP_STORED
        assert {"stack.xml", "mergedimage.png", "Thumbnails/thumbnail.png"} <= set(names)
        root = ElementTree.fromstring(archive.read("stack.xml"))
        assert (root.get("w"), root.get("h"), root.get("version")) == ("20", "12", "0.0.5")
        top = list(root.find("stack"))  # type: ignore[arg-type]
        assert [x.get("name") for x in top] == ["Lines", "Körper & Griff", "Paper"], "the topmost comes first"
        assert top[1].attrib["composite-op"] == "svg:multiply"
        assert float(top[1].attrib["opacity"]) == 0.5
        assert (top[1].get("x"), top[1].get("y")) == ("3", "-2")
        assert top[0].tag == "stack"
        assert top[0][0].get("visibility") == "hidden"
        for layer in root.iter("layer"):
            image = Image.open(io.BytesIO(archive.read(layer.attrib["src"])))
            assert image.mode == "RGBA"
            assert image.size == (20, 12)
        assert max(Image.open(io.BytesIO(archive.read("Thumbnails/thumbnail.png"))).size) <= 256


def test_what_is_written_is_read_back() -> None:
    layers, width, height = read_openraster(written(), "x.ora")
    assert (width, height) == (20, 12)
    assert [layer.name for layer in layers] == ["Paper", "Körper & Griff", "Lines"]
    for ours, theirs in zip(stack(), layers):
        assert (theirs.visible, theirs.opacity, theirs.mode) == (ours.visible, ours.opacity, ours.mode)
    assert np.array_equal(layers[0].pixels, stack()[0].pixels)
    # what lies on the page of a layer that stands 3 px to the right and 2 px above it
    assert layers[1].at == (3, 0)
    assert np.array_equal(layers[1].pixels, picture(10, 120, 60, 200)[2:, : 20 - 3])
    assert layers[2].pixels is None
    assert layers[2].inner[0].mode == "soft-light"
    assert not layers[2].inner[0].visible


def archive_of(stack_xml: str, **files: bytes) -> bytes:
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w") as archive:
        archive.writestr("stack.xml", stack_xml)
        for name, data in files.items():
            archive.writestr(name, data)
    return file.getvalue()


def packed_png(width: int, height: int) -> bytes:
    file = io.BytesIO()
    Image.new("RGBA", (width, height), (1, 2, 3, 255)).save(file, "PNG")
    return file.getvalue()


def squeezed(method: int, **files: bytes) -> bytes:
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w", method) as archive:
        for name, data in files.items():
            archive.writestr(name.replace("_", "."), data)
    return file.getvalue()


def with_flag(data: bytes) -> bytes:
    """The same archive, its first entry said to be encrypted (bit 0 of the flags, in both headers)."""
    torn = bytearray(data)
    torn[6] |= 1
    torn[data.index(b"PK\1\2") + 8] |= 1
    return bytes(torn)


def torn(data: bytes) -> bytes:
    """The first entry's stream with other bytes in its middle."""
    middle = (30 + len("stack.xml") + data.index(b"PK\1\2")) // 2
    return data[:middle] + bytes(255 - byte for byte in data[middle : middle + 12]) + data[middle + 12 :]


PAGE_OF = "<image w='{0}' h='{0}'><stack>{1}</stack></image>"
LAYER = "<layer src='a'/>"
HOSTILE = {
    "layers that share one picture": (
        lambda: squeezed(8, stack_xml=PAGE_OF.format(4000, LAYER * 150).encode(), a=packed_png(4000, 4000)),
        "more than 56 million pixels",
    ),
    "200,000 empty groups": (
        lambda: squeezed(8, stack_xml=PAGE_OF.format(9, "<stack/>" * 200_000).encode()),
        "more than 200",
    ),
    "a stack of spaces": (
        lambda: squeezed(8, stack_xml=PAGE_OF.format(9, " " * 40_000_000).encode()),
        "too great a length",
    ),
    "groups within groups": (
        lambda: squeezed(8, stack_xml=PAGE_OF.format(9, "<stack>" * 150 + "</stack>" * 150).encode()),
        "more than 20 others",
    ),
    "5,000 groups within groups": (
        lambda: squeezed(8, stack_xml=PAGE_OF.format(9, "<stack>" * 5_000 + "</stack>" * 5_000).encode()),
        "more than 200|damaged",
    ),
    "entities in another coding": (
        lambda: squeezed(
            8, stack_xml="<!DOCTYPE x [<!ENTITY a 'aaaa'>]><image w='9' h='9'><stack/></image>".encode("utf-16")
        ),
        "damaged|definitions",
    ),
    "entities": (
        lambda: squeezed(8, stack_xml=b"<!DOCTYPE x [<!ENTITY a 'aaaa'>]><image w='9' h='9'><stack/></image>"),
        "definitions",
    ),
    "a password": (lambda: with_flag(squeezed(0, stack_xml=PAGE_OF.format(9, "").encode())), "damaged"),
    "a place beyond all pages": (
        lambda: squeezed(8, stack_xml=PAGE_OF.format(9, "<layer src='a' x='1e400'/>").encode(), a=packed_png(4, 4)),
        "damaged",
    ),
    "a place that is no number": (
        lambda: squeezed(8, stack_xml=PAGE_OF.format(9, "<layer src='a' y='nan'/>").encode(), a=packed_png(4, 4)),
        "damaged",
    ),
    "a picture that unpacks to 200 MB": (
        lambda: squeezed(8, stack_xml=PAGE_OF.format(9, LAYER).encode(), a=b"\0" * 200_000_000),
        "too large to be unpacked",
    ),
    **{
        f"a torn stream ({method})": (
            lambda method=method: torn(squeezed(method, stack_xml=PAGE_OF.format(9, " x" * 900).encode())),
            "damaged",
        )
        for method in (zipfile.ZIP_DEFLATED, zipfile.ZIP_LZMA, zipfile.ZIP_BZIP2)
    },
}


@pytest.mark.parametrize("what", HOSTILE)
def test_archives_that_ask_for_too_much_are_refused_before_they_get_it(what: str) -> None:
    """A file of 3 kB took 4.5 GB, others ended in errors of the program (found by an independent check)."""
    make, words = HOSTILE[what]
    data = make()
    tracemalloc.start()
    try:
        with pytest.raises(HollowMarbleError, match=words):
            read_openraster(data, "x.ora")
        assert tracemalloc.get_traced_memory()[1] < 500e6
    finally:
        tracemalloc.stop()


def test_layers_far_off_the_page_bring_nothing_and_cost_nothing() -> None:
    xml = PAGE_OF.format(40, "<layer src='a' x='90000' y='-5000'/><layer src='a' x='-10'/>")
    (near, far), _, _ = read_openraster(squeezed(8, stack_xml=xml.encode(), a=packed_png(30, 30)), "x.ora")
    assert near.pixels is not None
    assert near.pixels.shape == (30, 20, 4)
    assert near.at == (0, 0)
    assert far.pixels is not None
    assert far.pixels.size == 0


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (archive_of("<image w='10' h='10'>"), "damaged"),
        (archive_of("<image w='ten' h='10'><stack/></image>"), "damaged"),
        (archive_of("<image w='40000' h='10'><stack/></image>"), "40,000 × 10 px"),
        (archive_of("<image w='10' h='10'/>"), "no layers"),
        (archive_of("<image w='10' h='10'><stack><layer src='gone.png'/></stack></image>"), "damaged"),
        (
            archive_of("<image w='10' h='10'><stack><layer src='a'/></stack></image>", a=b"\x89PNG torn"),
            "A layer of x.ora is",
        ),
        (archive_of(f"<image w='10' h='10'><stack>{'<layer/>' * 201}</stack></image>"), "more than 200"),
    ],
)
def test_files_that_will_not_do_are_refused_in_a_sentence(data: bytes, words: str) -> None:
    with pytest.raises(HollowMarbleError, match=words):
        read_openraster(data, "x.ora")


def test_modes_that_nobody_knows_lie_on_as_normal() -> None:
    file = io.BytesIO()
    Image.new("RGBA", (4, 4), (1, 2, 3, 255)).save(file, "PNG")
    xml = "<image w='4' h='4'><stack><layer src='a' composite-op='other:whirl' opacity='7'/></stack></image>"
    ((layer,), _, _) = read_openraster(archive_of(xml, a=file.getvalue()), "x.ora")
    assert (layer.mode, layer.opacity, layer.name) == ("normal", 1.0, "Layer")


def test_premultiplying_and_back_loses_less_than_its_own_rounding() -> None:
    random = np.random.default_rng(3)
    pixels = random.integers(0, 256, (40, 40, 4)).astype(np.uint8)
    there = premultiplied(pixels)
    back = premultiplied(straight(there))
    assert np.abs(back.astype(int) - there).max() <= 1
    assert np.array_equal(back[..., 3], pixels[..., 3])
