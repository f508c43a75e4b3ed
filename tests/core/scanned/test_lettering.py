"""Pages whose codes are not what is drawn, and text layers of scans."""

from __future__ import annotations

import re

import pikepdf
import pypdfium2 as pdfium
import pytest
from sheets import PROSE, words_of

from evenquill.core.model import RemarkKind
from evenquill.core.reading.evidence import PageKind
from evenquill.core.reading.lettering import is_suspect
from evenquill.core.reading.preparation import Preparation, Trust
from evenquill.core.reading.sizing import Ground, read_pdf_page, size_up


def recoded(path, change):
    """The PDF with another meaning for every character of its fonts."""
    with pikepdf.open(path, allow_overwriting_input=True) as pdf:
        for item in pdf.objects:
            if isinstance(item, pikepdf.Dictionary) and "/ToUnicode" in item:
                table = item.ToUnicode.read_bytes().decode()
                lines = [
                    re.sub(
                        r"^(<[0-9a-fA-F]+> )<([0-9a-fA-F]{4})>$", lambda m: f"{m[1]}<{change(int(m[2], 16)):04x}>", line
                    )
                    for line in table.splitlines()
                ]
                item.ToUnicode.write("\n".join(lines).encode())
        pdf.save(path)
    return path


@pytest.mark.parametrize("change", [lambda code: code + 1 if code > 64 else code, lambda code: 0xE000 + code])
def test_a_font_that_is_mapped_wrongly_is_read_from_what_it_draws(typeset, pictures, change):
    document = pdfium.PdfDocument(recoded(typeset(PROSE), change))
    evidence = read_pdf_page(document, 1, pictures.keep, Preparation())
    assert words_of(evidence) == PROSE.split()
    assert evidence.kind is PageKind.NATIVE
    assert [remark.kind for remark in evidence.remarks] == [RemarkKind.LETTERING]
    as_coded = read_pdf_page(document, 1, pictures.keep, Preparation(trust=Trust.TEXT))
    assert words_of(as_coded) != PROSE.split()


def test_sound_pages_are_not_suspected(typeset, read):
    for source in (
        PROSE,
        "#table(columns: 4, ..range(200).map(n => [#(n * 7)]))",
        "Die Höhe des Wassers wurde überprüft. " * 12,
    ):
        (page, *_) = read(typeset(source))
        assert not is_suspect(page)


def test_a_page_of_names_is_suspected_but_stays_as_it_is(typeset, pictures):
    names = "Tarrow Morvane Renn Lisle Vane Kallio Harrow Slip Perch Gull Tern Skua Brent Whimbrel Knot Dunlin " * 4
    document = pdfium.PdfDocument(typeset(names))
    evidence = read_pdf_page(document, 1, pictures.keep, Preparation())
    assert is_suspect(evidence)
    assert not evidence.remarks
    assert words_of(evidence) == names.split()


def test_the_clerk_can_have_a_native_page_read_from_its_picture(typeset, pictures):
    document = pdfium.PdfDocument(typeset(PROSE))
    assert size_up(document[0]).ground is Ground.NATIVE
    evidence = read_pdf_page(document, 1, pictures.keep, Preparation(trust=Trust.PICTURE))
    assert evidence.kind is PageKind.SCANNED
    assert words_of(evidence) == PROSE.split()
