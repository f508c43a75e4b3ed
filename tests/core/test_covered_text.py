"""Text that a page sets and that is not seen where it stands: cut off with what it is part of, or set twice; and text on drawn grounds."""

from __future__ import annotations

import pikepdf
import pytest

from evenquill.core.evidence import PictureKind
from evenquill.core.model import RemarkKind, Role
from tests.conftest import texts

TEXT = "The keeper wrote down what the gauge had shown at each tide, and the office kept what he wrote. "


@pytest.fixture
def with_strip_of_page(typeset):
    """A page that shows a strip, the top, of another page: the rest of that is in the file and cut off."""
    path = typeset(f"{2 * TEXT}\n#v(60mm)\n{2 * TEXT}")
    over = typeset(
        f"#set page(height: 120mm)\n= Tides\n#v(30mm)\n{3 * TEXT.replace('keeper', 'harbourmaster')}", name="over"
    )
    with pikepdf.open(path, allow_overwriting_input=True) as page, pikepdf.open(over) as included:
        form = page.copy_foreign(included.pages[0].as_form_xobject())
        box = [float(side) for side in form.BBox]
        form.BBox = pikepdf.Array([box[0], box[3] - 110, box[2], box[3]])
        page.pages[0].add_resource(form, pikepdf.Name.XObject, pikepdf.Name.Strip)
        page.pages[0].contents_add(b"q 1 0 0 1 0 300 cm /Strip Do Q")
        page.save(path)
    return path


def test_what_a_form_cuts_off_is_set_aside_and_said(with_strip_of_page, read, rebuilt):
    (page,) = read(with_strip_of_page)
    assert "Tides" in [line.text for line in page.lines]
    assert "harbourmaster" not in " ".join(line.text for line in page.lines)
    assert "harbourmaster" in " ".join(line.text for line in page.hidden)
    assert [remark.kind for remark in page.remarks] == [RemarkKind.HIDDEN_TEXT]
    shown = [block.text for block in rebuilt(with_strip_of_page).blocks if not block.excluded]
    assert sum(text.count("The keeper wrote down") for text in shown) == 4
    assert not any("harbourmaster" in text for text in shown)


def test_what_a_whole_form_shows_stays_text(typeset, read):
    path, over = typeset(TEXT), typeset(f"#set page(height: 60mm)\n{TEXT}", name="over")
    with pikepdf.open(path, allow_overwriting_input=True) as page, pikepdf.open(over) as included:
        page.pages[0].add_overlay(included.pages[0], pikepdf.Rectangle(20, 100, 300, 250))
        page.save(path)
    (page,) = read(path)
    assert page.hidden == ()
    assert " ".join(line.text for line in page.lines).count("The keeper wrote down") == 2


def test_text_set_twice_in_one_place_is_read_once(typeset, read):
    words = "#place(top + left, dy: {}mm)[Name of the customer and the office]"
    twice = "\n".join(words.format(y) for y in (20, 30, 20))
    (page,) = read(typeset(twice))
    assert [line.text for line in page.lines] == ["Name of the customer and the office"] * 2


def test_letters_of_a_ligature_are_not_taken_for_letters_set_twice(typeset, read):
    (page,) = read(typeset('#set text(font: "Libertinus Serif")\nThe office staff offered coffee and a muffin.'))
    assert " ".join(line.text for line in page.lines) == "The office staff offered coffee and a muffin."


RIBBON = """#place(top + left, dy: {y}mm, curve(fill: silver, curve.move((0mm, 0mm)), curve.line((80mm, 0mm)),
  curve.line((86mm, 4mm)), curve.line((80mm, 8mm)), curve.line((0mm, 8mm)), curve.close()))
#place(top + left, dx: 3mm, dy: {text}mm, text(weight: 700)[{title}])"""


def test_words_on_a_drawn_band_are_text(typeset, read):
    page = RIBBON.format(y=10, text=12, title="Skills") + RIBBON.format(y=60, text=62, title="Harbours")
    (evidence,) = read(typeset(f"{page}\n#v(80mm)\n{TEXT}"))
    assert {"Skills", "Harbours"} <= {line.text for line in evidence.lines}


def test_a_drawing_that_touches_a_frame_is_a_picture_and_the_text_in_the_frame_stays(typeset, read):
    frame = """#block(stroke: 1pt, width: 100%, height: 40mm, inset: 4mm)[
    Office of the harbour \\ 12 Weir Lane, second floor \\ Lower Wendle, by the lock
    #place(right + top, curve(stroke: 1pt, fill: silver, curve.move((0mm, 20mm)), curve.line((12mm, -4mm)), curve.line((24mm, 25mm)),
      curve.close()))]"""
    (page,) = read(typeset(f"{frame}\n{TEXT}"))
    assert [picture.kind for picture in page.pictures] == [PictureKind.DRAWING]
    assert "12 Weir Lane, second floor" in [line.text for line in page.lines]


def test_words_in_a_small_turned_page_are_part_of_the_drawing(typeset, read):
    thumbnail = f"#rotate(20deg, rect(width: 60mm, height: 40mm, stroke: 1pt, text(3pt)[{2 * TEXT}]))"
    (page,) = read(typeset(f"{TEXT}\n#v(20mm)\n{thumbnail}\n#v(20mm)\n{TEXT}"))
    assert " ".join(line.text for line in page.lines).count("The keeper wrote down") == 2
    assert len(page.pictures) == 1


def test_a_rule_made_of_a_stretched_dot_is_a_rule(typeset, read, tmp_path):
    from PIL import Image

    Image.new("RGB", (1, 1), "black").save(tmp_path / "dot.png")
    (page,) = read(typeset(f'{TEXT}\n\n#image("dot.png", width: 100%, height: 0.6pt, fit: "stretch")\n\n{TEXT}'))
    assert page.pictures == ()
    assert len(page.rules) == 1


def test_numbered_lines_of_code_stay_lines(typeset, rebuilt):
    lines = [
        "def height(gauge):",
        "    shown = gauge.read()",
        "    return shown - gauge.zero",
        "",
        "print(height(pier))",
    ]
    code = " \\ ".join(
        f'#text(6pt)[{n}]#h(4pt)#text(9pt, font: "DejaVu Sans Mono")[{line.replace(" ", "~")}]'
        for n, line in enumerate(lines, 1)
        if line
    )
    (block,) = [
        block for block in rebuilt(typeset(f"{2 * TEXT}\n\n{code}\n\n{2 * TEXT}")).blocks if block.role is Role.CODE
    ]
    assert [line.split(maxsplit=1)[0] for line in block.text.splitlines()] == ["1", "2", "3", "5"]
    assert "return shown" in block.text


def test_a_long_contents_list_goes_on_over_its_pages(typeset, read, rebuilt):
    dots = "#box(width: 1fr, repeat[. ])"
    entries = []
    for chapter in range(1, 13):
        entries.append(f"#v(6pt)*{chapter} Chapter {chr(64 + chapter)}* #h(1fr) *{10 * chapter}* \\ ")
        if chapter % 3:
            entries += [f"#h(12pt){chapter}.{k} Gauge {k} {dots} {10 * chapter + k} \\ " for k in range(1, 3)]
    source = '#set page(width: 320pt, height: 300pt, margin: 40pt, numbering: "1")\n= Contents\n' + "\n".join(entries)
    path = typeset(f"{source}\n#pagebreak()\n= Start\n{3 * TEXT}")
    document = rebuilt(path)
    found = texts(document, Role.CONTENTS)
    assert len(found) == len(entries)
    assert found[0] == "1 Chapter A\t10"
    assert found[-1].startswith("12 Chapter L")
    assert all(part.usual.header is None for part in document.running)
