"""Fonts that TeX embeds as little drawings, with no names and no map: what their codes mean."""

from __future__ import annotations

import pikepdf
import pytest

from evenquill.core.reading.native.tex_codes import texts_of_tex_codes
from evenquill.core.reading.native.typefaces import NAMELESS

FACE = f"{NAMELESS}0"


def meant(codes: bytes, *others: bytes) -> str:
    faces = {f"{NAMELESS}{n}": tuple(own) for n, own in enumerate((codes, *others))}
    found = texts_of_tex_codes(faces)
    return "".join(found.get((FACE, code), chr(code)) for code in codes)


@pytest.mark.parametrize(
    ("codes", "text"),
    [
        (b"\x1cnd o\x1bers, a\x1dat", "find offers, aflat"),
        (b"\x10gauge\x11 \x15 \xe1rbol \xb2", "“gauge” – árbol š"),
        (b'\x0cnd the \x0dag, the \x0bers \\said" {', "find the flag, the ffers “said” –"),
        (b"\x9f 1", "§ 1"),
    ],
)
def test_letters_are_of_one_encoding_or_the_other(codes, text):
    assert meant(codes + b" and text").startswith(text)


def test_signs_alone_are_those_of_a_font_of_signs():
    assert meant(b"\x88\x88", b"some text") == "••"
    assert meant(b"\x0f\x03", b"some text") == "•∗"


def test_ends_of_lines_alone_tell_no_encoding():
    assert meant(b"the gauge\x0d\x0a") == "the gauge\r\n"


def test_a_font_with_a_map_keeps_what_it_says():
    assert meant("«la balise» d'été".encode("latin-1")) == "«la balise» d'été"
    assert texts_of_tex_codes({"ABCDEF+Serif": (0x1C, 0x6E)}) == {}


def test_a_page_in_such_a_font_is_read(tmp_path, read):
    pdf = pikepdf.new()
    codes = sorted({*b"\x0cnd the \x0dags of"} - {32})
    glyph = pdf.make_stream(b"500 0 0 0 400 600 d1 0 0 400 600 re f")
    font = pikepdf.Dictionary(
        Type=pikepdf.Name.Font,
        Subtype=pikepdf.Name.Type3,
        FontBBox=[0, 0, 500, 700],
        FontMatrix=[0.001, 0, 0, 0.001, 0, 0],
        CharProcs=pikepdf.Dictionary({f"/a{code}": glyph for code in codes}),
        Encoding=pikepdf.Dictionary(
            Type=pikepdf.Name.Encoding,
            Differences=[part for code in codes for part in (code, pikepdf.Name(f"/a{code}"))],
        ),
        FirstChar=0,
        LastChar=127,
        Widths=[500] * 128,
    )
    page = pdf.add_blank_page(page_size=(300, 200))
    page.Resources = pikepdf.Dictionary(Font=pikepdf.Dictionary(F1=pdf.make_indirect(font)))
    page.Contents = pdf.make_stream(b"BT /F1 10 Tf 40 120 Td (\\014nd) Tj 25 0 Td (the) Tj 25 0 Td (\\015ags) Tj ET")
    pdf.save(tmp_path / "drawn.pdf")
    (evidence,) = read(tmp_path / "drawn.pdf")
    assert [line.text for line in evidence.lines] == ["find the flags"]
