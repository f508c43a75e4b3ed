"""A printed manual, scanned: question marks, quotations, notes, large titles and code as its pages have them."""

from __future__ import annotations

import numpy as np
import pytest
import scan_effects

from evenquill.core.model import Family, Marks, Role, TableBlock
from evenquill.core.reading.scanned.page import read_scan
from evenquill.core.reading.scanned.prepared import Scan
from evenquill.core.reading.scanned.raster import Raster
from evenquill.core.rebuild import rebuild
from evenquill.core.source import SourceFacts

FACTS = SourceFacts(media="application/pdf", pages=1, language="en")
PROSE = (
    "The float was found hard against the guide wire, and the trace for the two days is lost. The well was pumped dry, the orifice "
    "cleared of weed and the float hung again on a new wire."
)


@pytest.fixture
def scanned(typeset, pictures):
    """Evidence of a page of Typst source, printed and scanned at 300 dpi."""

    def make(source: str, dpi: int = 300):
        page = scan_effects.printed(scan_effects.drawn(typeset(source), 1, dpi), np.random.default_rng(2))
        return read_scan(Scan(Raster(page, dpi)), 1, pictures.keep)

    return make


def lines_of(evidence) -> list[str]:
    return [line.text for line in evidence.lines]


@pytest.mark.parametrize("font", ["Libertinus Serif", "New Computer Modern", "DejaVu Sans"])
def test_question_marks_and_quotations_are_no_raised_figures(scanned, font):
    asked = "Was it pumped dry? #strong[Can we do it?] The “quoted” word and “other” words.#super[3]"
    evidence = scanned(f'#set text(font: "{font}", size: 9pt)\n{asked}\n\n{PROSE}')
    text = " ".join(lines_of(evidence))
    assert "pumped dry? Can we do it? The" in text
    raised = [word.text for line in evidence.lines for word in line.words if word.marks & Marks.SUPER]
    assert raised == ["3"]
    assert sum(text.count(mark) for mark in '“”"') == 4


def test_the_stems_of_a_large_title_are_no_rules(scanned):
    evidence = scanned(f'#text(font: "DejaVu Sans", size: 25pt, weight: "bold")[Holding the tide]\n\n{PROSE}')
    assert lines_of(evidence)[0] == "Holding the tide"
    assert evidence.rules == ()


@pytest.mark.parametrize(("size", "weight"), [(22, "regular"), (22, "bold"), (30, "regular")])
def test_the_bars_of_a_title_in_capitals_are_no_rules(scanned, size, weight):
    title = f'#text(font: "Libertinus Serif", size: {size}pt, weight: "{weight}")[TITLE OF THE SETTLED FLEET]'
    evidence = scanned(f"{title}\n\n{PROSE}", dpi=150)
    assert "TITLE OF THE SETTLED" in " ".join(lines_of(evidence))
    assert evidence.rules == ()


def test_small_boxes_have_rules_around_them(scanned):
    boxes = "#box(width: 26pt, height: 20pt, stroke: 0.7pt) Seen #h(20pt) #box(width: 26pt, height: 20pt, stroke: 0.7pt) Not seen"
    evidence = scanned(f"{boxes}\n\n{PROSE}")
    assert sum(rule.horizontal for rule in evidence.rules) == 4


def test_what_a_rule_below_it_touches_keeps_its_feet(scanned):
    evidence = scanned(
        f"#underline(offset: 1.2pt, evade: false, stroke: 1pt)[THE FLEET WAS LAID UP AT LOW TIDE]\n\n{PROSE}", dpi=150
    )
    assert lines_of(evidence)[0].replace(" ", "") == "THEFLEETWASLAIDUPATLOWTIDE"


def test_the_rules_of_a_low_table_are_still_rules(scanned):
    cells = ", ".join(f"[{n}.20]" for n in range(8))
    evidence = scanned(f"#table(columns: 4, stroke: 0.7pt, inset: 7pt, {cells})\n\n{PROSE}")
    upright = [rule for rule in evidence.rules if not rule.horizontal]
    assert len(upright) == 5


@pytest.mark.parametrize("dash", ["dashed", "densely-dashed"])
def test_a_table_with_dashed_rules_is_a_table(scanned, dash):
    cells = "[Station], [Level], [Tide], [Norvell], [4.20], [11], [Quenpel], [3.87], [111], [Ister], [1.11], [1]"
    evidence = scanned(
        f'{PROSE}\n\n#table(columns: (1fr, 1fr, 1fr), stroke: (dash: "{dash}", thickness: 0.8pt), {cells})\n\n{PROSE}'
    )
    (table,) = (block for block in rebuild([evidence], FACTS).blocks if isinstance(block, TableBlock))
    assert [cell.text for cell in table.cells][3:9] == ["Norvell", "4.20", "11", "Quenpel", "3.87", "111"]


def test_dashes_of_rules_that_cross_are_cut_short_and_still_rules(scanned):
    """Between two rows only two or three dashes stand free: the next ones are part of a cross."""
    rows = [
        ("Station", "Level", "Tide"),
        ("Norvell", "4.20", "high"),
        ("Quenpel", "3.87", "low"),
        ("Ister", "4.02", "high"),
    ]
    cell = "#box(width: 102.2pt, height: 21.9pt, inset: 5.5pt)[{}]"
    lines = "".join(
        f"#place(top + left, dy: {n * 21.9}pt, line(length: 306.6pt, stroke: rule))"
        f"#place(top + left, dx: {n * 102.2}pt, line(angle: 90deg, length: 87.6pt, stroke: rule))"
        for n in range(4)
    )
    text = "\\\n".join("".join(cell.format(one) for one in row) for row in rows)
    table = f"""#let rule = (paint: black, thickness: 0.9pt, dash: (array: (3.3pt, 4pt), phase: 1.65pt))
    #block(width: 307pt, height: 88pt, above: 4pt, below: 5pt)[#set par(leading: 0pt, spacing: 0pt); {lines}
    #place(top + left, dy: 87.6pt, line(length: 306.6pt, stroke: rule))#text(top-edge: "ascender")[{text}]]"""
    evidence = scanned(f"{PROSE}\n\n{table}\n\n{PROSE}")
    assert len({round(rule.box.center_y / 5) for rule in evidence.rules if rule.horizontal}) == 5
    assert len({round(rule.box.center_x / 5) for rule in evidence.rules if not rule.horizontal}) == 4
    words = [word.text for line in evidence.lines for word in line.words]
    assert sorted(words) == sorted([*PROSE.split(), *(one for row in rows for one in row), *PROSE.split()])


def test_dots_that_lead_to_figures_and_columns_of_ones_are_no_rules(scanned):
    rows = "\n\n".join(
        f"Level of the {name} station #box(width: 1fr, repeat[.]) 1"
        for name in ("first", "second", "third", "fourth") * 3
    )
    evidence = scanned(
        f"{PROSE}\n\n{rows}\n\n#set par(leading: 0.3em)\n" + " \\\n".join("l l 1 1 I" for _ in range(12))
    )
    assert evidence.rules == ()


def test_a_dot_raised_before_each_line_is_a_bullet(scanned):
    texts = (
        "Clear the orifice of the well of weed",
        "Hang the float again on a new wire",
        "Read the staff beside the pier twice",
    )
    items = "\n".join(f"- {text}" for text in texts)
    evidence = scanned(
        f"#set list(marker: move(dy: 3pt, circle(radius: 0.6pt, fill: black)))\n{PROSE}\n\n{items}\n\n{PROSE}"
    )
    assert [line.text for line in evidence.lines if "•" in line.text] == ["•"] * 3, lines_of(evidence)


def test_roman_numbers_of_a_list_keep_their_dots(scanned):
    items = "\n".join(
        f"+ {text}"
        for text in ("Clear the orifice of weed", "Hang the float on its wire", "Read the staff", "Close the well")
    )
    evidence = scanned(f'#set enum(numbering: "i.", body-indent: 2em)\n{PROSE}\n\n{items}\n\n{PROSE}', dpi=150)
    assert [line for line in lines_of(evidence) if len(line) <= 4 and line.endswith(".")][::3] == ["i.", "iv."]


CODE = """height = reading - 0.021
if reading < 0.15:
    note("the well is dry")
end
print(height, "metres above datum")"""


def test_code_on_a_printed_page_is_code(scanned):
    evidence = scanned(f"{PROSE}\n\n```\n{CODE}\n```\n\n{PROSE}")
    families = {line.text.split()[0]: evidence.types[line.words[0].type].family for line in evidence.lines}
    assert families["height"] is families["if"] is families["end"] is Family.MONO
    assert families["The"] is Family.SERIF
    document = rebuild([evidence], FACTS)
    (code,) = [block.text for block in document.blocks if block.role is Role.CODE]
    first, _, third, fourth, _ = code.splitlines()
    assert first.split() == ["height", "=", "reading", "-", "0.021"]
    assert third.startswith("    note(")
    assert fourth == "end"


def test_a_title_in_capitals_is_printed_like_its_page(scanned):
    evidence = scanned(f"#strong[MEMORANDUM]\n\n{PROSE}\n\n{PROSE}")
    assert {evidence.types[word.type].family for line in evidence.lines for word in line.words} == {Family.SERIF}
    assert all(evidence.types[word.type].bold for word in evidence.lines[0].words)


def test_a_typewritten_page_is_text_and_no_code(scanned):
    evidence = scanned(f'#set text(font: "DejaVu Sans Mono", size: 8pt)\n{PROSE}\n\n{PROSE}')
    assert {evidence.types[word.type].family for line in evidence.lines for word in line.words} == {Family.MONO}
    document = rebuild([evidence], FACTS)
    assert {block.role for block in document.blocks} == {Role.PARAGRAPH}
