"""Drawings of a page as SVG: as true as their source, kept beside the picture, and in the formats that can show them."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path

import msgspec
import numpy as np
import pypdfium2 as pdfium
import pytest
from lxml import etree
from msgspec.structs import replace
from PIL import Image

from evenquill.core.edits import ReplacePicture, ResizePicture, apply
from evenquill.core.model import Box, PictureBlock
from evenquill.core.pictures import PictureFolder, pictures_named
from evenquill.core.reading.native import vector
from evenquill.core.reading.native.frame import frame_of
from evenquill.core.reading.native.vector import svg_of, unlikeness
from evenquill.core.writers.registry import WRITERS
from tests.conftest import picture_blocks
from tests.core.raw_pages import write_page

CURVE = """
#let x = range(0, 25).map(n => n * 10)
The curve of the week is drawn here, so that nobody has to ask the keeper for it.
#align(center, box(width: 260pt, height: 120pt, {
  place(line(start: (0pt, 110pt), end: (250pt, 110pt)))
  place(curve(stroke: (paint: rgb("#a03020"), thickness: 1.5pt, dash: "dashed"), curve.move((0pt, 90pt)),
    curve.cubic((60pt, 0pt), (120pt, 140pt), (180pt, 40pt)), curve.line((250pt, 60pt))))
  place(dx: 40pt, dy: 50pt, circle(radius: 9pt, fill: rgb("#2060a080")))
  place(dx: 100pt, dy: 112pt, text(8pt)[noon])
}))
It was checked on the quay.
"""


@pytest.fixture
def curve(typeset) -> Path:
    return typeset(CURVE)


def test_a_drawing_is_kept_as_svg_beside_its_picture(curve, rebuilt, pictures):
    (drawn,) = picture_blocks(rebuilt(curve))
    svg = etree.fromstring(pictures.get(drawn.drawing))
    assert svg.tag == "{http://www.w3.org/2000/svg}svg"
    paths = list(svg.iter("{*}path"))
    assert any(path.get("stroke") == "#a03020" and path.get("stroke-dasharray") for path in paths)
    assert any(path.get("fill") == "#2060a0" and float(path.get("fill-opacity")) < 0.6 for path in paths)
    letters = [
        path
        for path in paths
        if path.get("fill") == "#000000" and path.get("d").count("M") and path.get("stroke") is None
    ]
    assert len(letters) >= len("noon")
    assert abs(float(svg.get("width").removesuffix("pt")) - drawn.width) < 0.2
    assert Image.open(io.BytesIO(pictures.get(drawn.picture))).format == "PNG"


@pytest.mark.parametrize("turned", [0, 90, 180, 270])
def test_it_lies_on_its_source_on_turned_pages_too(turned, curve):
    document = pdfium.PdfDocument(curve)
    page = document[0]
    page.set_rotation(turned)
    frame = frame_of(page.raw)
    whole = Box(20, 30, frame.width - 20, frame.height - 30)
    assert svg_of(page, frame, whole) is not None


def test_what_svg_does_not_say_stays_a_picture(typeset):
    shaded = "#circle(radius: 60pt, fill: gradient.linear(red, blue))"
    page = pdfium.PdfDocument(typeset(shaded))[0]
    frame = frame_of(page.raw)
    assert svg_of(page, frame, Box(0, 0, frame.width, frame.height)) is None


def test_a_drawing_of_a_great_many_strokes_is_a_picture(tmp_path, monkeypatch):
    strokes = " ".join(f"{n % 300} {n % 170} m {n % 290} {n % 180} l S" for n in range(900))
    page = pdfium.PdfDocument(write_page(tmp_path / "plan.pdf", strokes, "", {}))[0]
    frame = frame_of(page.raw)
    whole = Box(0, 0, frame.width, frame.height)
    assert svg_of(page, frame, whole) is not None
    monkeypatch.setattr(vector, "MOST_SEGMENTS", 1000)
    assert svg_of(page, frame, whole) is None


def test_a_place_without_width_or_beyond_the_page_has_no_svg(curve):
    page = pdfium.PdfDocument(curve)[0]
    frame = frame_of(page.raw)
    for box in (Box(50, 50, 50, 90), Box(-900, -900, -800, -800), Box(0, 0, 20_000, 20_000)):
        svg = svg_of(page, frame, box)
        assert svg is None or svg.startswith(b"<svg")


def test_two_pictures_are_alike_where_ink_is_at_its_place():
    dark = np.zeros((60, 60))
    dark[20:40, 30] = 1.0
    aside = np.roll(dark, 1, axis=1)
    assert unlikeness(dark, aside) == (0.0, 0.0)
    lost = dark.copy()
    lost[20:30] = 0.0
    unlike, darker = unlikeness(dark, lost)
    assert unlike > vector.MOST_UNLIKE
    assert darker == pytest.approx(0.5)


def test_formats_have_the_svg_and_programs_that_cannot_show_it_the_picture(curve, rebuilt, pictures, tmp_path):
    document = rebuilt(curve)
    (drawn,) = picture_blocks(document)
    svg = pictures.get(drawn.drawing)

    def written(name: str) -> bytes:
        return WRITERS[name].write(document, pictures.get, ())

    with zipfile.ZipFile(io.BytesIO(written("docx"))) as file:
        media = {name: file.read(name) for name in file.namelist() if name.startswith("word/media/")}
        body = file.read("word/document.xml").decode()
    assert svg in media.values()
    assert pictures.get(drawn.picture) in media.values()
    assert "svgBlip" in body
    with zipfile.ZipFile(io.BytesIO(written("odt"))) as file:
        content = etree.fromstring(file.read("content.xml"))
        (frame,) = content.iter("{urn:oasis:names:tc:opendocument:xmlns:drawing:1.0}frame")
        named = [image.get("{http://www.w3.org/1999/xlink}href") for image in frame if image.tag.endswith("image")]
        assert [file.read(name) == svg for name in named] == [True, False]
    assert "data:image/svg+xml;base64," in written("html").decode()
    with zipfile.ZipFile(io.BytesIO(written("epub"))) as file:
        assert [name for name in file.namelist() if name.endswith(".svg")]
    path = tmp_path / "written.pdf"
    path.write_bytes(written("pdf"))
    kinds = {pdf_object.type for pdf_object in pdfium.PdfDocument(path)[0].get_objects()}
    assert pdfium.raw.FPDF_PAGEOBJ_IMAGE not in kinds


def test_another_picture_in_its_place_has_no_drawing_and_another_size_keeps_it(curve, rebuilt):
    document = rebuilt(curve)
    (drawn,) = picture_blocks(document)
    larger = apply(document, ResizePicture(drawn.id, 400.0, 200.0)).document
    assert picture_blocks(larger)[0].drawing == drawn.drawing
    other = apply(document, ReplacePicture(drawn.id, "0" * 64, "image/png", 300, 200)).document
    assert picture_blocks(other)[0].drawing == ""


def test_drawings_are_named_like_pictures():
    block = replace(PictureBlock("p", "a" * 64, "image/png", 10, 10), drawing="b" * 64)
    assert pictures_named(msgspec.json.encode(block)) == ["a" * 64, "b" * 64]


def test_pictures_without_a_drawing_are_as_before(pictures: PictureFolder):
    plain = PictureBlock("p", "a" * 64, "image/jpeg", 10, 10)
    assert plain.sharpest == ("a" * 64, "image/jpeg")
    assert replace(plain, drawing="b" * 64).sharpest == ("b" * 64, "image/svg+xml")
