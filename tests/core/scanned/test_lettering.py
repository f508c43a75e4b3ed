"""Pages whose codes are not what is drawn, and text layers of scans."""

from __future__ import annotations

import re

import pikepdf
import pypdfium2 as pdfium
import pytest
from sheets import PROSE, words_of

from evenquill.core.evidence import PageKind, Vote
from evenquill.core.model import RemarkKind
from evenquill.core.reading.lettering import suspect_faces
from evenquill.core.reading.preparation import Preparation, Trust
from evenquill.core.reading.repair import repairs_of, with_repaired_lettering
from evenquill.core.reading.sizing import Ground, read_pdf_page, size_up


def recoded(path, change, font=""):
    """The PDF with another meaning for every character of its fonts, or of those with ``font`` in their name."""
    with pikepdf.open(path, allow_overwriting_input=True) as pdf:
        for item in pdf.objects:
            if isinstance(item, pikepdf.Dictionary) and "/ToUnicode" in item and font in str(item.BaseFont):
                table = item.ToUnicode.read_bytes().decode()
                lines = [
                    re.sub(r"^(<[0-9a-fA-F]+> )<([0-9a-fA-F]+)>$", lambda m: f"{m[1]}<{shifted(m[2], change)}>", line)
                    for line in table.splitlines()
                ]
                item.ToUnicode.write("\n".join(lines).encode())
        pdf.save(path)
    return path


SHIFTED = [lambda code: code + 1 if code > 64 else code, lambda code: 0xE000 + code, lambda code: code + 1]


def shifted(codes, change):
    return "".join(f"{change(int(codes[n : n + 4], 16)):04x}" for n in range(0, len(codes), 4))


@pytest.mark.parametrize("change", SHIFTED)
def test_a_font_that_is_mapped_wrongly_is_repaired_by_what_it_draws(typeset, pictures, change):
    document = pdfium.PdfDocument(recoded(typeset(PROSE), change))
    evidence = read_pdf_page(document, 1, pictures.keep, Preparation())
    assert [remark.kind for remark in evidence.remarks] == [RemarkKind.LETTERING]
    assert evidence.kind is PageKind.NATIVE
    assert evidence.cleaned is None
    (repaired,) = with_repaired_lettering([evidence])
    assert words_of(repaired) == PROSE.split()
    as_coded = read_pdf_page(document, 1, pictures.keep, Preparation(trust=Trust.TEXT))
    assert words_of(as_coded) != PROSE.split()


def test_a_page_too_short_to_tell_is_repaired_by_what_the_others_say(typeset, pictures):
    source = recoded(typeset(f"{PROSE}\n#pagebreak()\nThe water office."), SHIFTED[0])
    document = pdfium.PdfDocument(source)
    pages = [read_pdf_page(document, number, pictures.keep, Preparation()) for number in (1, 2)]
    assert "water" not in words_of(pages[1])
    repaired = with_repaired_lettering(pages)
    assert words_of(repaired[1]) == ["The", "water", "office."]
    assert [remark.kind for remark in repaired[1].remarks] == [RemarkKind.LETTERING]


def test_one_wrong_font_is_repaired_and_the_sound_one_stays(typeset, pictures):
    heading = '#text(font: "DejaVu Sans")[Notices to mariners about buoys, lights and harbour works this winter]'
    path = typeset(f"{heading}\n\n{PROSE}")
    recoded(path, SHIFTED[0], font="DejaVu")
    evidence = read_pdf_page(pdfium.PdfDocument(path), 1, pictures.keep, Preparation())
    assert len({vote.face for vote in evidence.votes}) == 2
    (repaired,) = with_repaired_lettering([evidence])
    assert words_of(repaired)[:4] == ["Notices", "to", "mariners", "about"]
    assert words_of(repaired)[-len(PROSE.split()) :] == PROSE.split()


def test_votes_decide_by_their_majority_and_leave_sound_fonts_alone():
    wrong = [Vote("F", "b", "a", 9), Vote("F", "b", "o", 2), Vote("F", "c", "b", 4), Vote("F", "q", "q", 1)]
    sound = [Vote("G", "a", "a", 30), Vote("G", "c", "e", 3), Vote("G", "\ue001", "fi", 2)]
    assert repairs_of([*wrong, *sound]) == {"F": {"b": "a", "c": "b"}, "G": {"\ue001": "fi"}}


def test_sound_pages_are_not_suspected(typeset, read):
    for source in (
        PROSE,
        "#table(columns: 4, ..range(200).map(n => [#(n * 7)]))",
        "Die Höhe des Wassers wurde überprüft. " * 12,
        "$ " + " quad ".join(["sum_(i=1)^n f_i H_i cos(omega_i t + V_i - kappa_i)"] * 12) + " $",
    ):
        (page, *_) = read(typeset(source))
        assert not suspect_faces(page)


def test_a_page_of_names_is_suspected_but_stays_as_it_is(typeset, pictures):
    names = "Tarrow Morvane Rennick Lislet Vaney Kallion Skerrin Oskery Brannow Vallin Hesketter Ardling " * 5
    document = pdfium.PdfDocument(typeset(names))
    evidence = read_pdf_page(document, 1, pictures.keep, Preparation())
    assert suspect_faces(evidence)
    assert not evidence.remarks
    assert words_of(evidence) == names.split()


def test_the_clerk_can_have_a_native_page_read_from_its_picture(typeset, pictures):
    document = pdfium.PdfDocument(typeset(PROSE))
    assert size_up(document[0]).ground is Ground.NATIVE
    evidence = read_pdf_page(document, 1, pictures.keep, Preparation(trust=Trust.PICTURE))
    assert evidence.kind is PageKind.SCANNED
    assert words_of(evidence) == PROSE.split()


CYRILLIC = (
    "Смотритель каждый час записывал высоту воды в книгу и сравнивал показания часов с сигналом времени. Колодец был осушен и "
    "очищен от водорослей, после чего поплавок снова подвесили на новой проволоке. "
)


def test_letters_that_nobody_here_can_read_are_kept_as_they_are(typeset, pictures):
    names = ("Поплавок", "Проволока", "Колодец", "Барабан", "Бумага", "Часы", "Рейка", "Журнал")
    rows = ", ".join(f"[#text(weight: 700)[{name}]], [{n}7.{n}4], [−{n}.2]" for n, name in enumerate(names, 1))
    source = f'#set text(font: "DejaVu Sans")\n{CYRILLIC}\n\n#table(columns: 3, {rows})\n\n{CYRILLIC}'
    evidence = read_pdf_page(pdfium.PdfDocument(typeset(source)), 1, pictures.keep, Preparation())
    assert evidence.remarks == ()
    assert set(names) < set(words_of(evidence))
