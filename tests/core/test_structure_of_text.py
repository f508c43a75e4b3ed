"""Numbers of several levels, quotations, verse, definitions, endnotes, lists of figures, text on its side, down to the DOCX."""

from __future__ import annotations

import io

import docx
import pytest
from lxml import etree
from msgspec.structs import replace

from evenquill.core.model import Align, NoteRef, NumberFormat, Numbering, Role, StructureDoubt, TextBlock
from evenquill.core.model.inline import run_in_heading
from evenquill.core.rebuild.doubts import with_doubts_that_are_asked
from evenquill.core.resolve.list_labels import list_labels
from evenquill.core.writers.docx import write_docx
from evenquill.core.writers.docx.xml import W
from tests.conftest import block_with, text_blocks, texts
from tests.core.raw_pages import justified

RULE = (
    "The keeper of the gauge shall read the float at slack water and write the reading down in ink before the next one is taken by "
    "anybody."
)
JUSTIFIED = "#set par(justify: true)\n"
HANGING = '#set enum(full: true, numbering: "1.1.")\n'


def roles(document):
    return [block.role for block in text_blocks(document)]


def marks(document):
    """Depth, pattern and start of the numbered items."""
    return [
        (b.level, b.numbering.pattern, b.numbering.start) for b in text_blocks(document) if b.role is Role.LIST_ITEM
    ]


def package_of(document):
    return docx.Document(io.BytesIO(write_docx(document, lambda picture: b"")))


def fields_of(package):
    return [node.text for node in package.element.iter(f"{{{W}}}instrText")]


def test_numbers_of_several_levels_are_one_list(typeset, rebuilt):
    inner = "    + The well is cleaned.\n    + The float is weighed.\n"
    items = f"+ {RULE}\n  + {RULE}\n  + {RULE}\n{inner}  + {RULE}\n+ {RULE}\n  + Wind the clock.\n  + Change the paper."
    document = rebuilt(typeset(JUSTIFIED + HANGING + items))
    assert marks(document) == [
        (0, "%.", 1),
        (1, "%.%.", 1),
        (1, "%.%.", None),
        (2, "%.%.%.", 1),
        (2, "%.%.%.", None),
        (1, "%.%.", None),
        (0, "%.", None),
        (1, "%.%.", 1),
        (1, "%.%.", None),
    ]
    assert not any(text[0].isdigit() for text in texts(document))
    numbered = [p._p.pPr.numPr for p in package_of(document).paragraphs]
    assert len({number.numId.val for number in numbered}) == 1
    assert [number.ilvl.val for number in numbered] == [0, 1, 1, 2, 2, 1, 0, 1, 1]


def test_clauses_at_one_edge_under_numbered_headings_are_items(typeset, rebuilt):
    head = '#let h(b) = text(weight: "bold", size: 13pt, b)\n'
    source = (
        f"#h[1\\. Definitions]\n\n1.1 {RULE}\n\n1.2 {RULE} In 1.1 it was 2.5 metres.\n\n(a) the first case; and\n\n(b) the second case.\n\n"
        f"1.3 {RULE}\n\nA row between them that has no number.\n\n1.4 {RULE}\n\n#h[2\\. Duties]\n\n2.1 The board pays.\n\n2.1.1 {RULE}\n\n"
        f"2.1.2 {RULE}\n\n2.2 {RULE}"
    )
    document = rebuilt(typeset(JUSTIFIED + head + source))
    assert marks(document) == [
        (0, "1.%", 1),
        (0, "1.%", None),
        (1, "(%)", 1),
        (1, "(%)", None),
        (0, "1.%", None),
        (0, "1.%", None),
        (0, "2.%", 1),
        (1, "2.%.%", 1),
        (1, "2.%.%", None),
        (0, "2.%", None),
    ]
    assert texts(document, Role.HEADING) == ["1. Definitions", "2. Duties"]
    assert any(text.endswith("In 1.1 it was 2.5 metres.") for text in texts(document))


def test_short_numbered_lines_are_headings_and_rows_of_figures_no_items(typeset, rebuilt):
    rows = "#table(columns: 3, stroke: none, [1.1], [2.4], [3.3], [1.2], [2.6], [3.1], [1.3], [2.1], [3.0])"
    source = f'#text(weight: "bold", size: 13pt)[3\\. Places]\n\n3.1 North pier\n\n{RULE}\n\n3.2 South pier\n\n{RULE}\n\n{rows}'
    document = rebuilt(typeset(JUSTIFIED + source))
    assert texts(document, Role.HEADING) == ["3. Places", "3.1 North pier", "3.2 South pier"]
    assert texts(document, Role.LIST_ITEM) == []


def test_a_figure_at_the_start_of_a_line_is_no_number(typeset, rebuilt):
    rose = "The water at the north pier rose that night by 1.1, by 1.2, and in the end by 1.3 metres above the datum of the chart."
    document = rebuilt(typeset(f"#set page(width: 92mm)\n{rose}"))
    assert texts(document) == [rose]
    assert texts(document, Role.LIST_ITEM) == []


@pytest.mark.parametrize("lines", [2, 5])
def test_text_set_in_from_both_edges_is_a_quotation(typeset, rebuilt, lines):
    said = " ".join(["The water stood at the door of the hut and did not fall for an hour."] * lines)
    source = f"The keeper of that time described it like this in the log of the gauge:\n\n#pad(x: 11mm)[{said}]\n\n{RULE} {RULE}"
    document = rebuilt(typeset(JUSTIFIED + source))
    assert roles(document) == [Role.PARAGRAPH, Role.QUOTE, Role.PARAGRAPH]
    quote = block_with(document, said)
    style = document.style(quote.style)
    assert style.name == "Quotation"
    assert (style.left, style.right) == pytest.approx((31, 31), abs=2)


def test_paragraphs_of_one_line_with_an_indent_are_neither_quotations_nor_verse(typeset, rebuilt):
    indent = "#set par(justify: true, first-line-indent: (amount: 1.8em, all: true), spacing: 0.65em)\n"
    short = [
        "The clock of the gauge was set that day.",
        "The paper was changed at noon by hand.",
        "The pen was filled again with blue ink.",
    ]
    document = rebuilt(typeset(indent + "\n\n".join([f"{RULE} {RULE}", *short, f"{RULE} {RULE}"])))
    assert [text for text in texts(document) if text in short] == short
    assert set(roles(document)) == {Role.PARAGRAPH}


def test_verse_keeps_its_lines_and_an_address_is_none(typeset, rebuilt):
    lines = [
        "Slow goes the water under the moon,",
        "slow comes the ebb and none too soon;",
        "what the gauge has seen it does not tell,",
    ]
    source = f"Tide Office, \\ Quay Street, \\ Skerrin\n\n{RULE}\n\n#pad(left: 12mm)[{' #linebreak() '.join(lines)}]\n\n{RULE}"
    document = rebuilt(typeset(JUSTIFIED + source))
    assert texts(document, Role.VERSE) == ["\n".join(lines)]
    assert texts(document)[0] == "Tide Office,\nQuay Street,\nSkerrin"
    assert roles(document)[0] is Role.PARAGRAPH


def test_terms_and_what_is_set_in_below_them_are_a_definition_list(typeset, rebuilt):
    def pair(term, text):
        return f"*{term}*\n#pad(left: 10mm, top: -4pt)[{text}]\n"

    source = (
        f"{RULE}\n\n"
        + pair("Chart datum", RULE)
        + pair("Neap", "A tide of small range.")
        + pair("Spring", f"{RULE}")
        + f"\n{RULE}"
    )
    document = rebuilt(typeset(source))
    assert roles(document) == [Role.PARAGRAPH, *[Role.TERM, Role.DEFINITION] * 3, Role.PARAGRAPH]
    styles = {p.style.name for p in package_of(document).paragraphs}
    assert {"Definition Term", "Definition"} <= styles


def test_paragraphs_that_hang_from_a_bold_term_are_definitions_of_one_style(typeset, rebuilt):
    source = f"{RULE}\n\n/ Chart datum: {RULE}\n/ Neap: A tide of small range.\n/ Spring: {RULE}\n\n{RULE}"
    document = rebuilt(typeset(source))
    made = [block for block in text_blocks(document) if block.role is Role.DEFINITION]
    assert [block.text.split()[0] for block in made] == ["Chart", "Neap", "Spring"]
    assert {block.style for block in made} == {"Definition"}


def endnoted(title="= Notes", between=""):
    notes = [
        "Log of the north gauge, page 17.",
        "The keeper’s own figure, written down from memory.",
        "See the report for the year before.",
    ]
    rows = "\n".join(f"#grid(columns: (12pt, 1fr), [{n}\\.], [{note}])" for n, note in enumerate(notes, 1))
    text = f"= The gauges\n\n{RULE}#super[1] {RULE}#super[2]\n\n{RULE} Ten m#super[2] of weed were cut.\n\n{RULE}#super[3]\n\n"
    return text + f"#pagebreak()\n{between}{title}\n\n" + "#set text(size: 9pt)\n" + rows, notes


@pytest.mark.parametrize("title", ["= Notes", "= Anmerkungen", "#line(length: 30%)"])
def test_endnotes_are_tied_to_the_raised_numbers_of_the_text(typeset, rebuilt, title):
    source, notes = endnoted(title)
    document = rebuilt(typeset(source))
    assert texts(document, Role.ENDNOTE) == notes
    leads = {run.mark: run.note for block in text_blocks(document) for run in block.content if isinstance(run, NoteRef)}
    by_id = {block.id: block.text for block in text_blocks(document)}
    assert {mark: by_id[note] for mark, note in leads.items()} == dict(zip("123", notes, strict=True))
    package = package_of(document)
    part = next(part for part in package.part.package.iter_parts() if part.partname == "/word/endnotes.xml")
    written = ["".join(note.itertext(f"{{{W}}}t")).strip() for note in etree.fromstring(part.blob)]
    assert [text for text in written if text] == notes
    assert len(list(package.element.iter(f"{{{W}}}endnoteReference"))) == 3


def test_a_numbered_list_is_not_made_endnotes_by_raised_figures_alone(typeset, rebuilt):
    source, notes = endnoted("", between="The rules are these, in the order of their weight for the office:\n\n")
    document = rebuilt(typeset(source + f"\n\n#set text(size: 10pt)\n{RULE}"))
    assert texts(document, Role.ENDNOTE) == []
    assert texts(document, Role.LIST_ITEM) == notes


def test_lists_of_figures_are_fields_and_lead_to_captions(typeset, rebuilt):
    source = (
        '#set page(numbering: "1")\n#outline()\n#outline(title: [List of figures], target: figure.where(kind: image))\n#pagebreak()\n'
        f"= Gauges\n{RULE}\n\n#figure(rect(width: 30mm, height: 12mm, fill: gray), caption: [The float])\n\n= Wells\n{RULE}\n\n"
        f"#figure(rect(width: 30mm, height: 12mm, fill: blue), caption: [The well])\n\n= Clocks\n{RULE}"
    )
    document = rebuilt(typeset(source))
    assert texts(document, Role.CAPTION) == ["Figure 1: The float", "Figure 2: The well"]
    package = package_of(document)
    fields = fields_of(package)
    assert [field.split()[0] for field in fields] == ["TOC", "TOC", "SEQ", "SEQ"]
    assert '\\c "Figure"' in fields[1]
    captions = {f"block_{block.id}" for block in text_blocks(document) if block.role is Role.CAPTION}
    assert captions <= {link.get(f"{{{W}}}anchor") for link in package.element.iter(f"{{{W}}}hyperlink")}
    assert captions <= {mark.get(f"{{{W}}}name") for mark in package.element.iter(f"{{{W}}}bookmarkStart")}


def test_text_on_its_side_is_read_where_it_stands(typeset, rebuilt):
    turned = "#rotate(-90deg, reflow: true)[#block(width: 90mm)[This paragraph stands on its side since what it says is wide.]]"
    document = rebuilt(typeset(f"{RULE}\n\n{turned}\n\nThe text below follows what stands on its side."))
    assert [text.split()[0] for text in texts(document)] == ["The", "This", "The"]
    assert texts(document)[2].startswith("The text below")


def test_text_on_its_side_beside_the_text_comes_last(typeset, rebuilt):
    turned = "#place(left + horizon, dx: -12mm)[#rotate(-90deg, reflow: true)[Skerrin Harbour Board]]"
    document = rebuilt(typeset(f"{turned}{RULE}\n\n" * 1 + "\n\n".join([RULE] * 14)))
    assert texts(document)[-1] == "Skerrin Harbour Board"


def test_numbers_of_items_are_decimal(typeset, rebuilt):
    document = rebuilt(typeset(JUSTIFIED + f"1.1 {RULE}\n\n1.2 {RULE}"))
    assert {block.numbering.format for block in text_blocks(document)} == {NumberFormat.DECIMAL}


def test_headings_over_text_that_is_all_set_in_are_no_terms(typeset, rebuilt):
    def part(title):
        return f'#text(weight: "bold")[{title}]\n\n#pad(left: 12mm)[{RULE} {RULE}]\n\n'

    document = rebuilt(typeset(part("Name") + part("Use") + part("Files")))
    assert texts(document, Role.HEADING) == ["Name", "Use", "Files"]
    assert texts(document, Role.TERM) == []


def test_a_single_bold_line_over_text_set_in_is_no_definition_list(typeset, rebuilt):
    source = f"{RULE}\n\n*Chart datum*\n#pad(left: 10mm, top: -4pt)[{RULE}]\n\n{RULE} {RULE}"
    document = rebuilt(typeset(source))
    assert not {Role.TERM, Role.DEFINITION} & set(roles(document))


def test_endnotes_of_two_chapters_that_begin_anew_are_tied_each_to_its_own(typeset, rebuilt):
    def chapter(name, more):
        rows = "\n".join(f"#grid(columns: (12pt, 1fr), [{n}\\.], [{name}, source {n}.])" for n in (1, 2))
        text = f"The gauge of the {name} is read by hand. {RULE}#super[1]\n\nSo at the {name} it is. {RULE}#super[2]"
        return f"= {name}\n\n{text}\n\n#pagebreak()\n{more}\n\n== Notes\n\n{rows}\n\n#pagebreak()\n"

    document = rebuilt(typeset(chapter("North pier", RULE) + chapter("South pier", f"{RULE} {RULE}")))
    by_id = {block.id: block.text for block in text_blocks(document)}
    led = [by_id[run.note] for block in text_blocks(document) for run in block.content if isinstance(run, NoteRef)]
    assert led == [f"{name}, source {n}." for name in ("North pier", "South pier") for n in (1, 2)]


def test_an_endnote_that_begins_with_its_number_raised_loses_it(typeset, rebuilt):
    notes = "#super[1] Log of the north gauge.\n\n#super[2] Log of the south gauge."
    source = f"{RULE}#super[1] {RULE}#super[2]\n\n{RULE}\n\n#pagebreak()\n= Notes\n\n{notes}"
    document = rebuilt(typeset(source))
    assert texts(document, Role.ENDNOTE) == ["Log of the north gauge.", "Log of the south gauge."]


def test_a_list_of_captions_without_numbers_of_their_own_is_made_from_their_style(typeset, rebuilt):
    rows = "\n".join(
        f"Figure {n}.1 {name} #box(width: 1fr, repeat[.]) {n + 1}\n" for n, name in ((1, "Float"), (2, "Well"))
    )
    captions = "".join(f"= Part {n}\n\n{RULE}\n\nFigure {n}.1 – {name}\n\n" for n, name in ((1, "Float"), (2, "Well")))
    document = rebuilt(typeset(f"= List of figures\n\n{rows}\n#pagebreak()\n{captions}{RULE}"))
    fields = fields_of(package_of(document))
    assert [field.split()[0] for field in fields] == ["TOC"]
    assert "SEQ" not in " ".join(fields)


NOTES = "It was read at noon and written down by the keeper, as is usual there in all weathers."


def run_in_headings(document) -> list[str]:
    return [title for block in text_blocks(document) if (title := run_in_heading(block.content))]


@pytest.mark.parametrize("look", ["*{}.*", "_{}._", "*{}:*", "*{}* —"])
def test_headings_that_begin_paragraphs_are_told(typeset, rebuilt, look):
    titles = ["The well", "The clock on the pier", "Levels"]
    source = "\n\n".join(f"{look.format(title)} {NOTES}" for title in titles)
    document = rebuilt(typeset(source))
    assert [title.rstrip(".:") for title in run_in_headings(document)] == titles
    assert all(block.role is Role.PARAGRAPH for block in text_blocks(document))


@pytest.mark.parametrize(
    "source",
    [
        f"*Note:* {NOTES}\n\n*Note:* {NOTES}\n\n*Note:* {NOTES}",
        f"*The well.* {NOTES}",
        f"*The well* {NOTES}\n\n*Levels* {NOTES}",
        f"*The well.* {NOTES} *Levels.* {NOTES}\n\n*The clock.* {NOTES} *Wires.* {NOTES}",
        "*Date:* 11 June\n\n*From:* D. Tarrow\n\n*To:* A. Morvane",
    ],
)
def test_emphasis_at_the_beginning_is_not_always_a_heading(typeset, rebuilt, source):
    assert run_in_headings(rebuilt(typeset(source))) == []


def items(*given: tuple[int, str, int | None]) -> list[TextBlock]:
    """Items of these levels, patterns (bullets without a number's place) and starts."""
    out = []
    for n, (level, pattern, start) in enumerate(given):
        form = (
            NumberFormat.BULLET
            if "%" not in pattern
            else NumberFormat.LOWER_LETTER
            if ")" in pattern
            else NumberFormat.DECIMAL
        )
        out.append(TextBlock(f"i{n}", Role.LIST_ITEM, level=level, numbering=Numbering(form, pattern, start)))
    return out


@pytest.mark.parametrize(
    ("given", "labels"),
    [
        (((0, "%.", 1), (0, "%.", None), (0, "%.", None)), "1. 2. 3."),
        (((0, "%.", 4), (1, "%)", 1), (1, "%)", None), (0, "%.", None), (1, "%)", 1)), "4. a) b) 5. a)"),
        (
            ((0, "%.", 1), (1, "%.%", 1), (2, "%.%.%", 1), (2, "%.%.%", None), (1, "%.%", None)),
            "1. 1.1 1.1.1 1.1.2 1.2",
        ),
        (((0, "•", None), (1, "–", None), (0, "•", None)), "• – •"),
        (((1, "%.%", 3),), "?.3"),
    ],
)
def test_items_are_counted_as_they_will_be_written(given, labels):
    assert " ".join(list_labels(items(*given)).values()) == labels


def test_items_that_are_set_aside_and_text_between_do_not_end_a_list():
    first, second, third = items((0, "%.", 1), (0, "%.", None), (0, "%.", None))
    blocks = [first, TextBlock("p"), replace(second, excluded=True), third]
    assert list_labels(blocks) == {"i0": "1.", "i2": "2."}


def test_a_title_below_the_running_head_that_repeats_it_is_in_the_text(typeset, rebuilt):
    title = "The Gauges of Brannowick"
    head = f"#set page(header: [{title} #h(1fr) Page #context counter(page).display()])\n"
    body = "\n\n".join([RULE * 3] * 9)
    document = rebuilt(typeset(f"{head}{title}\n#v(10pt)\n{body}"))
    assert texts(document)[0] == title
    assert texts(document).count(title) == 1


def test_a_paragraph_whose_last_line_is_full_is_not_set_to_the_right(tmp_path, rebuilt):
    pairs = [
        (80, "The keeper reads the float and writes it down in ink"),
        (60, "before the evening tide comes in over the sill again"),
    ]
    lines = [(left, 350, 440 - 14 * n, words) for n, (left, words) in enumerate(pairs * 6)]
    document = rebuilt(justified(tmp_path / "full.pdf", lines))
    aligns = {block.align or document.style(block.style).align for block in text_blocks(document)}
    assert aligns == {Align.JUSTIFY}


def test_what_is_hardly_doubtful_is_asked_only_while_little_is():
    def block(n: int, likelihood: float) -> TextBlock:
        return TextBlock(f"b{n}", Role.PARAGRAPH, doubts=(StructureDoubt(likelihood),))

    def asked(*likelihoods: float) -> list[float]:
        found = with_doubts_that_are_asked([block(n, one) for n, one in enumerate(likelihoods)], 2)
        return [doubt.likelihood for one in found if isinstance(one, TextBlock) for doubt in one.doubts]

    assert asked(0.1, 0.05, 0.09) == [0.1, 0.09]
    assert asked(0.1, 0.15, 0.12, 0.09, 0.13) == [0.1, 0.15, 0.12, 0.13]
    assert asked(0.5, 0.3, 0.25, 0.4, 0.22, 0.15) == [0.5, 0.3, 0.25, 0.4, 0.22]


def test_full_lines_set_in_at_both_sides_are_not_centred(tmp_path, rebuilt):
    outer, inner = "keeper reads the float and writes it down in ink for the", "keeper reads the float and writes it"
    last = "keeper reads the float and writes it down in ink."
    around = [(40, f"The {outer}"), *[(40, f"and {outer}")] * 4, (40, f"and the {last}")]
    within = [(70, f"The {inner} down"), (70, f"and the {inner} up"), (70, f"or the {inner} up.")]
    lines: list[tuple[float, float, float, str]] = []
    y = 460.0
    for n, (left, words) in enumerate([*around, *within, *around]):
        y -= 24 if n in (6, 9) else 14
        lines.append((left, 400 - left, y, words))
    document = rebuilt(justified(tmp_path / "inset.pdf", lines))
    found = [block for block in text_blocks(document) if block.spots[0].box.x0 > 60]
    assert found
    assert all((block.align or document.style(block.style).align) is not Align.CENTER for block in found)


def test_a_line_that_begins_where_the_text_does_is_not_centred(tmp_path, rebuilt):
    line = "The keeper writes that the gauge at the third pier has been read again."
    lines = [
        (40, 400, 460, "Harbour office of the lower basin, at the third quay and its stairs, which are closed"),
        (55, 180, 424, "Dear Ada Quell of the pier,"),
        (55, 385, 400, line),
        (55, 385, 364, "The tide stood at the second mark of the staff at noon and nobody of the"),
        (55, 285, 350, "office was there to write it down in the book."),
    ]
    document = rebuilt(justified(tmp_path / "letter.pdf", lines))
    (found,) = [block for block in text_blocks(document) if block.text == line]
    assert (found.align or document.style(found.style).align) is not Align.CENTER


def title_block(rest: str) -> str:
    head = "#align(center)[#text(17pt)[The gauges of Orlin] #v(8pt) #text(12pt)[T. Harvel] #v(8pt) #text(12pt)[3 May 1974]] #v(12pt)"
    return f"{head}\n{RULE}\n\n{rest}\n\n{RULE}"


@pytest.mark.parametrize("rest", ["", "= Wells", f"= Wells\n{RULE}\n= Stairs\n{RULE}\n= Costs"])
def test_who_wrote_it_and_when_are_paragraphs_below_the_title(typeset, rebuilt, rest):
    document = rebuilt(typeset(title_block(rest)))
    assert texts(document, Role.HEADING)[:1] in (["The gauges of Orlin"], [])
    assert not any("Harvel" in text or "1974" in text for text in texts(document, Role.HEADING))


def test_signs_that_stand_alone_are_no_heading(typeset, rebuilt):
    document = rebuilt(typeset(f'= Gauges\n{RULE}\n\n#text(20pt, weight: "bold")[★ ☆ ★]\n\n{RULE}\n\n= Wells\n{RULE}'))
    assert texts(document, Role.HEADING) == ["Gauges", "Wells"]
