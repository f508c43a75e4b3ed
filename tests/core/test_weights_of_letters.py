"""Bold letters told by the names of fonts, else by how wide their stems are drawn; rules under words as thick as they are drawn."""

from __future__ import annotations

import pypdfium2 as pdfium
import pytest
from reportlab.pdfgen.canvas import Canvas

from evenquill.core.model import Marks
from evenquill.core.reading.native.page import read_page
from evenquill.core.reading.native.typefaces import typeface_of

LETTERS = "lillilliilliillilli"


def nameless(path, *stems: int):
    """A page with a line in each of some fonts without a name, whose letters are stems so wide, in thousandths of an em."""
    shown = "".join(f"BT /F{n} 12 Tf 72 {700 - 20 * n} Td ({LETTERS}) Tj ET\n" for n in range(len(stems)))
    fonts = " ".join(f"/F{n} {10 + 3 * n} 0 R" for n in range(len(stems)))
    objects = {
        1: "<< /Type /Catalog /Pages 2 0 R >>",
        2: "<< /Type /Pages /Kids [3 0 R] /Count 1 >>",
        3: f"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents 4 0 R /Resources << /Font << {fonts} >> >> >>",
        4: f"<< /Length {len(shown)} >>\nstream\n{shown}\nendstream",
    }
    for n, stem in enumerate(stems):
        at = 10 + 3 * n
        glyph = f"300 0 0 0 300 700 d1 100 0 {stem} 700 re f"
        encoding = "<< /Type /Encoding /Differences [105 /i 108 /l] >>"
        objects[at] = (
            f"<< /Type /Font /Subtype /Type3 /FontBBox [0 0 300 700] /FontMatrix [0.001 0 0 0.001 0 0] /FirstChar 105 /LastChar 108 "
            f"/Widths [300 300 300 300] /Encoding {encoding} /CharProcs << /i {at + 1} 0 R /l {at + 1} 0 R >> "
            f"/ToUnicode {at + 2} 0 R /Resources << >> >>"
        )
        objects[at + 1] = f"<< /Length {len(glyph)} >>\nstream\n{glyph}\nendstream"
        codes = "1 begincodespacerange <00> <ff> endcodespacerange 1 beginbfrange <00> <ff> <0000> endbfrange"
        cmap = f"/CIDInit /ProcSet findresource begin begincmap {codes} endcmap end"
        objects[at + 2] = f"<< /Length {len(cmap)} >>\nstream\n{cmap}\nendstream"
    out, places = "%PDF-1.7\n", {}
    for number, body in objects.items():
        places[number] = len(out)
        out += f"{number} 0 obj\n{body}\nendobj\n"
    start, last = len(out), max(objects)
    rows = "".join(f"{places.get(n, 0):010d} {0:05d} {'n' if n in places else 'f'} \n" for n in range(1, last + 1))
    out += f"xref\n0 {last + 1}\n0000000000 65535 f \n{rows}trailer << /Size {last + 1} /Root 1 0 R >>\nstartxref\n{start}\n%%EOF"
    path.write_bytes(out.encode())
    return path


def page_of(path):
    return read_page(pdfium.PdfDocument(path), 1, lambda picture, media: None)


def bold_lines(page):
    return [page.types[line.words[0].type].bold for line in sorted(page.lines, key=lambda line: line.baseline)]


@pytest.mark.parametrize(
    ("stems", "bold"),
    [
        ((80, 80, 130), [False, False, True]),
        ((80, 80, 90), [False, False, False]),
        ((130, 130, 130), [False, False, False]),  # all alike: that is the weight of this page
    ],
)
def test_a_font_without_a_name_is_bold_by_its_stems(tmp_path, stems, bold):
    page = page_of(nameless(tmp_path / "page.pdf", *stems))
    assert [line.text for line in page.lines] == [LETTERS] * 3
    assert bold_lines(page) == bold
    assert {type_.face for type_ in page.types} == {""}


@pytest.mark.parametrize(
    ("name", "weight", "bold"),
    [
        ("ABCDEF+Vollkorn-Regular", 700, False),
        ("Vollkorn-Bold", 400, True),
        ("Vollkorn", 700, True),
        ("CenturySchoolbook-BoldItalic", 400, True),
        ("TimesNewRoman", 700, False),
        ("TimesNewRoman,Bold", 0, True),
    ],
)
def test_a_font_that_is_called_regular_is_not_bold_whatever_its_stems_claim(name, weight, bold):
    assert typeface_of(name, 0, weight, 0).bold is bold


def test_a_stroked_rule_is_as_thick_as_it_is_drawn(tmp_path):
    canvas = Canvas(str(tmp_path / "rules.pdf"), pagesize=(400, 300))
    canvas.setFont("Helvetica", 9)
    canvas.drawString(50, 200, "Localization of gauges")
    canvas.setLineWidth(1)
    canvas.line(50, 198.5, 50 + canvas.stringWidth("Localization of gauges", "Helvetica", 9), 198.5)
    canvas.setLineWidth(2)
    canvas.line(50, 100, 350, 100)
    canvas.save()
    page = page_of(tmp_path / "rules.pdf")
    assert [Marks(word.marks) for word in page.lines[0].words] == [Marks.UNDERLINE] * 3
    (rule,) = page.rules
    assert (rule.box.height, rule.box.center_y) == pytest.approx((2, 200), abs=0.05)
