"""Bold letters told by the names of fonts, else by how wide their stems are drawn; rules under words as thick as they are drawn."""

from __future__ import annotations

import pikepdf
import pypdfium2 as pdfium
import pytest

from evenquill.core.font_names import is_called_bold
from evenquill.core.model import Marks
from evenquill.core.reading.native.page import read_page
from evenquill.core.reading.native.typefaces import typeface_of
from tests.core.raw_pages import DESCRIPTOR, SERIF, WIDTH, stream, write_page

LETTERS = "lillilliilliillilli"


def nameless(path, *stems: int, leans: tuple[int, ...] = ()):
    """A page with a line in each of some fonts without a name, whose letters are stems so wide, and lean so far to the right over their
    height, in thousandths of an em."""
    shown = "".join(f"BT /F{n} 12 Tf 72 {700 - 20 * n} Td ({LETTERS}) Tj ET\n" for n in range(len(stems)))
    fonts = " ".join(f"/F{n} {10 + 3 * n} 0 R" for n in range(len(stems)))
    objects: dict[int, str] = {}
    for n, stem in enumerate(stems):
        at = 10 + 3 * n
        lean = leans[n] if leans else 0
        glyph = f"300 0 0 0 300 700 d1 100 0 m {100 + stem} 0 l {100 + stem + lean} 700 l {100 + lean} 700 l f"
        encoding = "<< /Type /Encoding /Differences [105 /i 108 /l] >>"
        objects[at] = (
            f"<< /Type /Font /Subtype /Type3 /FontBBox [0 0 300 700] /FontMatrix [0.001 0 0 0.001 0 0] /FirstChar 105 /LastChar 108 "
            f"/Widths [300 300 300 300] /Encoding {encoding} /CharProcs << /i {at + 1} 0 R /l {at + 1} 0 R >> "
            f"/ToUnicode {at + 2} 0 R /Resources << >> >>"
        )
        objects[at + 1] = stream(glyph)
        codes = "1 begincodespacerange <00> <ff> endcodespacerange 1 beginbfrange <00> <ff> <0000> endbfrange"
        cmap = f"/CIDInit /ProcSet findresource begin begincmap {codes} endcmap end"
        objects[at + 2] = stream(cmap)
    return write_page(path, shown, fonts, objects)


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


def test_a_font_without_a_name_is_italic_if_its_stems_lean(tmp_path):
    page = page_of(nameless(tmp_path / "page.pdf", 80, 80, 130, 80, leans=(0, 0, 0, 140)))
    looks = [page.types[line.words[0].type] for line in sorted(page.lines, key=lambda line: line.baseline)]
    assert [look.italic for look in looks] == [False, False, False, True]
    assert [look.bold for look in looks] == [False, False, True, False]


@pytest.mark.parametrize(
    ("name", "weight", "bold"),
    [
        ("ABCDEF+Vollkorn-Regular", 700, False),
        ("Vollkorn-Bold", 400, True),
        ("Vollkorn", 700, True),
        ("CenturySchoolbook-BoldItalic", 400, True),
        ("TimesNewRoman", 700, False),
        ("TimesNewRoman,Bold", 0, True),
        ("ABCDEF+Times-Italic", 700, False),
        ("Times-BoldItalic", 700, True),
        ("Helvetica-Oblique", 900, False),
        ("CMR12", 700, False),
        ("ABCDEF+CMR12~27", 700, False),
        ("CMBX12~3e", 400, True),
    ],
)
def test_a_font_that_is_called_regular_is_not_bold_whatever_its_stems_claim(name, weight, bold):
    assert typeface_of(name, 0, weight, 0).bold is bold


@pytest.mark.parametrize(("drawn", "bold"), [("regular", False), ("bold", True)])
def test_a_font_that_only_claims_to_be_bold_is_so_if_it_is_drawn_so(typeset, tmp_path, drawn, bold):
    path, claiming = (
        typeset(
            f'Gauges of the north lilli\n\n#text(weight: "{drawn}", size: 11pt, font: "DejaVu Sans Mono")[till all millions fill it]'
        ),
        tmp_path / "claiming.pdf",
    )
    with pikepdf.open(path) as file:
        for one in file.objects:
            if isinstance(one, pikepdf.Dictionary) and "Mono" in str(one.get("/FontName", one.get("/BaseFont", ""))):
                for key in ("/FontName", "/BaseFont"):
                    if key in one:
                        one[key] = pikepdf.Name("/ABCDEF+QuayM")
                if "/StemV" in one:
                    one["/StemV"] = 213
        file.save(claiming)
    assert bold_lines(page_of(claiming)) == [False, bold]


def test_a_stroked_rule_is_as_thick_as_it_is_drawn(tmp_path):
    words = "Localization of gauges"
    shown = f"BT /F0 9 Tf 50 200 Td ({words}) Tj ET 1 w 50 198.5 m {50 + 9 * WIDTH * len(words)} 198.5 l S 2 w 50 100 m 350 100 l S"
    page = page_of(write_page(tmp_path / "rules.pdf", shown, "/F0 5 0 R", {5: SERIF, 6: DESCRIPTOR}, (400, 300)))
    assert [Marks(word.marks) for word in page.lines[0].words] == [Marks.UNDERLINE] * 3
    (rule,) = page.rules
    assert (rule.box.height, rule.box.center_y) == pytest.approx((2, 200), abs=0.05)


@pytest.mark.parametrize(
    "name",
    [
        "NimbusRomNo9L-Medi",
        "NimbusRomNo9L-MediItal",
        "ABCDEF+LinLibertineOB",
        "LinBiolinumOB",
        "CMSSDC10",
        "CMSSBX10",
        "CMB10",
        "SFBX1000",
        "Liberation Serif Bold",
    ],
)
def test_names_of_bold_typefaces_are_known(name):
    assert is_called_bold(name)


@pytest.mark.parametrize(
    "name",
    ["LinLibertineOI", "LinLibertineMO", "GentiumMedium", "ABCDEF+CMSS10", "CMR10", "SFRM1000", "CMSSI10", "Demeter"],
)
def test_names_of_others_are_not_taken_for_bold(name):
    assert not is_called_bold(name)
