"""Statements about rebuilt documents: paragraphs, hyphens, lists, headings, styles, running heads, notes."""

from __future__ import annotations

from collections import Counter

import pytest
from msgspec.structs import replace

from evenquill.core.evidence import Type
from evenquill.core.model import Align, Field, FieldKind, Marks, NoteRef, NumberFormat, Role, Text
from evenquill.core.model.inline import plain
from evenquill.core.rebuild.facts import Facts, facts_of, language_of
from evenquill.core.rebuild.hyphens import keeps_hyphen
from evenquill.core.rebuild.marks import readings
from tests.conftest import block_with, picture_blocks, text_blocks, texts

PROSE = (
    "The float was found hard against the guide wire, and the trace for the two days is lost. The well was pumped dry, the "
    "orifice cleared of weed and the float hung again on a new wire. Levels before and after are given in the book."
)


def test_lines_of_a_paragraph_are_joined_and_paragraphs_kept_apart(typeset, rebuilt):
    document = rebuilt(typeset(f"{PROSE}\n\n{PROSE}"))
    assert texts(document) == [PROSE, PROSE]


def test_first_line_indents_part_paragraphs_without_space(typeset, rebuilt):
    document = rebuilt(
        typeset(f"#set par(first-line-indent: (amount: 1.5em, all: true), spacing: 0.65em)\n{PROSE}\n\n{PROSE}")
    )
    assert texts(document) == [PROSE, PROSE]
    assert all(document.style(block.style).first == pytest.approx(15, abs=1) for block in text_blocks(document))


def test_a_paragraph_cut_by_the_page_end_is_one(typeset, rebuilt):
    long = " ".join(f"Sentence {n} says what the keeper saw of the water on that day." for n in range(60))
    document = rebuilt(typeset(f"#set par(justify: true)\n{long}"))
    assert texts(document) == [long]
    (block,) = text_blocks(document)
    assert [spot.page for spot in block.spots] == [1, 2]
    last = block.words[-1]
    assert (block.text[last.start : last.end], last.page) == ("day.", 2)


def test_lines_that_were_broken_on_purpose_stay_lines(typeset, rebuilt):
    document = rebuilt(typeset("Captain Osric Vane \\ Beacon House \\ Skerrin\n\n" + PROSE))
    assert texts(document) == ["Captain Osric Vane\nBeacon House\nSkerrin", PROSE]


def test_a_word_broken_at_a_line_end_is_joined_and_a_real_hyphen_kept(typeset, rebuilt):
    document = rebuilt(
        typeset(
            "The two-month period and the well-known superintendent. \n\n#set page(margin: (x: 53mm))\n"
            "#set par(justify: true)\n#set text(hyphenate: true)\n"
            "Administration and superintendents understandably recommended comparisons of neighbouring observations."
        )
    )
    assert "The two-month period and the well-known superintendent." in texts(document)
    assert (
        "Administration and superintendents understandably recommended comparisons of neighbouring observations."
        in texts(document)
    )


def facts(*words: str, soft: str | None = None) -> Facts:
    from evenquill.core.model import Family

    return Facts(Type("", Family.SERIF, 10), {}, Counter(words), soft, "en")


def test_evidence_for_hyphens_comes_in_its_order():
    assert not keeps_hyphen("super\u00ad", "intendent", facts())
    assert keeps_hyphen("two-", "month", facts("two-month"))
    assert not keeps_hyphen("two-", "month", facts("twomonth"))
    assert not keeps_hyphen("dis\u2010", "pute", facts(soft="\u2010"))
    assert keeps_hyphen("91-", "0362", facts())
    assert keeps_hyphen("Anglo-", "Norman", facts())
    assert not keeps_hyphen("observ-", "ations", facts())
    assert keeps_hyphen("well-", "meaning", facts())


def test_headings_have_levels_by_size_and_number(typeset, rebuilt):
    source = (
        '#set heading(numbering: "1.1", outlined: false, bookmarked: false)\n'
        "#show heading.where(level: 1): set text(16pt)\n#show heading.where(level: 2): set text(12pt)\n"
        f"= Gauges\n{PROSE}\n== North Pier\n{PROSE}\n== Ferry slip\n{PROSE}\n= Results\n{PROSE}"
    )
    document = rebuilt(typeset(source))
    headings = [(block.level, block.text) for block in text_blocks(document) if block.role is Role.HEADING]
    assert headings == [(1, "1 Gauges"), (2, "1.1 North Pier"), (2, "1.2 Ferry slip"), (1, "2 Results")]


def test_the_outline_of_the_file_has_the_last_word_on_levels(typeset, rebuilt):
    source = f"#show heading: set text(12pt)\n= Gauges\n{PROSE}\n== North Pier\n{PROSE}\n=== The well\n{PROSE}\n"
    document = rebuilt(typeset(source))
    assert [block.level for block in text_blocks(document) if block.role is Role.HEADING] == [1, 2, 3]


def test_one_bold_line_in_a_letter_is_not_a_heading(typeset, rebuilt):
    who = "Mrs H. Quillan\\ North Street 19\\ Skerrin"
    letter = f"{who}\n\n#align(right)[14 October 1991]\n\n*About the staff at the stairs*\n\nDear Mrs Quillan,"
    document = rebuilt(typeset(f"{letter}\n\n{PROSE}\n\n{PROSE}\n\nYours sincerely,\\ T. Renn"))
    block = block_with(document, "About the staff")
    assert block.role is Role.PARAGRAPH
    assert block.content[0].marks == Marks.BOLD


def test_lists_have_depth_and_their_marks_are_not_in_the_text(typeset, rebuilt):
    document = rebuilt(
        typeset(
            "#set list(marker: ([•], [–]))\n- wire and float\n- clock, with\n  - a key\n  - a spring\n- paper\n\n"
            + PROSE
        )
    )
    items = [block for block in text_blocks(document) if block.role is Role.LIST_ITEM]
    assert [(item.level, item.text) for item in items] == [
        (0, "wire and float"), (0, "clock, with"), (1, "a key"), (1, "a spring"), (0, "paper"),
    ]  # fmt: skip
    assert texts(document)[-1] == PROSE


def test_numbered_items_run_on_and_start_again(typeset, rebuilt):
    document = rebuilt(
        typeset(
            f'#set enum(numbering: "1.a)")\n+ one\n+ two\n  + inner\n  + more\n+ three\n\n{PROSE}\n\n+ again\n+ and on'
        )
    )
    items = [block for block in text_blocks(document) if block.role is Role.LIST_ITEM]
    starts = [(item.text, item.level, item.numbering.start) for item in items]
    assert starts == [
        ("one", 0, 1), ("two", 0, None), ("inner", 1, 1), ("more", 1, None), ("three", 0, None), ("again", 0, 1), ("and on", 0, None),
    ]  # fmt: skip
    assert items[2].numbering.format is NumberFormat.LOWER_LETTER


def test_a_year_at_the_start_of_a_line_is_no_list_item(typeset, rebuilt):
    document = rebuilt(
        typeset("1\\. was the number of the first order, and there is no other order in this text at all.")
    )
    assert texts(document, Role.LIST_ITEM) == []
    assert texts(document)[0].startswith("1. was")


@pytest.mark.parametrize(
    ("mark", "expected"),
    [
        ("7.", [(NumberFormat.DECIMAL, 7)]),
        ("(iv)", [(NumberFormat.LOWER_ROMAN, 4)]),
        ("i)", [(NumberFormat.LOWER_ROMAN, 1), (NumberFormat.LOWER_LETTER, 9)]),
        ("B.", [(NumberFormat.UPPER_LETTER, 2)]),
        ("•", []),
    ],
)
def test_marks_are_read_in_all_ways_that_they_can_be(mark, expected):
    assert [(number.format, number.value) for number in readings(mark)] == expected


def test_alignment_is_a_property(typeset, rebuilt):
    document = rebuilt(
        typeset(
            f"#align(right)[3 March 1992]\n#align(center)[Skerrin Harbour Board]\n#set par(justify: true)\n{PROSE}\n\n{PROSE}"
        )
    )

    def align(text):
        block = block_with(document, text)
        return block.align or document.style(block.style).align

    assert align("3 March") is Align.RIGHT
    assert align("Harbour Board") is Align.CENTER
    assert document.style(text_blocks(document)[-1].style).align is Align.JUSTIFY


def test_bold_and_italic_words_are_runs_and_the_style_is_plain(typeset, rebuilt):
    document = rebuilt(typeset("Read the *upper* staff, _not the lower_ one, in calm weather."))
    (block,) = text_blocks(document)
    assert [(run.text, run.marks) for run in block.content if run.marks] == [
        ("upper", Marks.BOLD),
        ("not the lower", Marks.ITALIC),
    ]
    assert not document.style(block.style).bold


def test_a_document_has_few_styles(typeset, rebuilt):
    sections = "".join(f"== Part {n}\n{PROSE}\n\n- one thing\n- another thing\n\n{PROSE}\n\n" for n in range(8))
    document = rebuilt(typeset("= Book\n" + sections))
    assert len({block.style for block in text_blocks(document)}) <= 5


def test_running_heads_leave_the_text_and_keep_the_page_number(typeset, rebuilt):
    pages = [f"On day {n}: {PROSE}" for n in ("one", "two", "three", "four")]
    source = (
        "#set page(header: [Skerrin Harbour Board #h(1fr) Gauges], footer: context align(center)[Page #counter(page).display()])\n"
        + "#pagebreak()\n".join(pages)
    )
    document = rebuilt(typeset(source))
    assert texts(document) == pages
    (part,) = document.running
    assert part.usual.header is not None
    assert plain(part.usual.header.content).split("\t") == ["Skerrin Harbour Board", "", "Gauges"]
    assert part.usual.footer is not None
    assert part.usual.footer.content == (Text("Page "), Field(FieldKind.PAGE))
    assert [page.label for page in document.pages] == ["1", "2", "3", "4"]


def test_footnotes_are_tied_to_their_marks(typeset, rebuilt):
    document = rebuilt(typeset(f"A fourth gauge was given up.#footnote[It stood at the coal berth.] {PROSE}"))
    (note,) = [block for block in text_blocks(document) if block.role is Role.NOTE]
    assert note.text == "It stood at the coal berth."
    (mark,) = [run for block in text_blocks(document) for run in block.content if isinstance(run, NoteRef)]
    assert (mark.mark, mark.note) == ("1", note.id)


def test_two_columns_are_read_one_after_the_other(typeset, rebuilt):
    left = " ".join(f"Left column sentence {n} tells of the pier." for n in range(14))
    right = " ".join(f"Right column sentence {n} tells of the slip." for n in range(14))
    document = rebuilt(typeset(f"#columns(2)[{left}\n#colbreak()\n{right}]", paper="a4"))
    assert texts(document) == [left, right]


def test_labels_and_values_stay_rows(typeset, rebuilt):
    rows = ", ".join(f"[Label {n}:], [Value {n}]" for n in range(6))
    document = rebuilt(typeset(f"#grid(columns: (40mm, 1fr), row-gutter: 3mm, {rows})"))
    assert texts(document) == [f"Label {n}:\tValue {n}" for n in range(6)]


def test_contents_lines_keep_their_page_and_lose_their_dots(typeset, rebuilt):
    document = rebuilt(typeset(f"#outline(title: [Contents])\n= North Pier\n{PROSE}\n= Ferry slip\n{PROSE}"))
    assert "North Pier\t1" in texts(document)
    assert block_with(document, "North Pier\t").tabs[0].leader


def test_spaces_without_width_are_not_read(typeset, read):
    (page,) = read(typeset("harbour gauge#sym.wj;4"))
    assert [line.text for line in page.lines] == ["harbour gauge4"]


def test_contents_lines_without_dots_get_none(typeset, rebuilt):
    source = (
        f"#set outline.entry(fill: none)\n#outline(title: [Contents])\n= North Pier\n{PROSE}\n= Ferry slip\n{PROSE}"
    )
    (stop,) = block_with(rebuilt(typeset(source)), "North Pier\t").tabs
    assert stop.align is Align.RIGHT
    assert not stop.leader


def test_pictures_stand_where_they_stood(typeset, rebuilt, tmp_path):
    from PIL import Image

    Image.effect_noise((300, 200), 50).save(tmp_path / "hut.png")
    document = rebuilt(typeset(f'{PROSE}\n\n#align(center, image("hut.png", width: 40mm))\n\n{PROSE}'))
    assert [block.id for block in document.blocks].index(picture_blocks(document)[0].id) == 1
    (picture,) = picture_blocks(document)
    assert picture.align is Align.CENTER
    assert picture.width == pytest.approx(113.4, abs=1)


def test_no_word_is_lost_or_doubled(typeset, read, rebuilt):
    words = [f"w{n}x" for n in range(900)]
    path = typeset(
        "#set par(justify: true)\n= Head\n" + " ".join(words[:500]) + "\n\n" + "".join(f"- {w}\n" for w in words[500:])
    )
    document = rebuilt(path)
    assert sorted(" ".join(texts(document)).split()) == sorted(["Head", *words])


def test_an_empty_page_is_kept_as_an_empty_page(typeset, rebuilt):
    document = rebuilt(typeset("#pagebreak()\nText on the second page."))
    assert len(document.pages) == 2
    assert texts(document) == ["Text on the second page."]


@pytest.mark.parametrize(
    ("text", "language"),
    [
        ("Der Pegel am Nordpier wurde im September geprüft und für gut befunden.", "de"),
        ("Le marégraphe du môle nord a été inspecté au mois de septembre.", "fr"),
        ("Vedenkorkeus mitattiin joka aamu laiturin päässä olevasta asteikosta.", "fi"),
        ("17 4 22", ""),
    ],
)
def test_the_language_is_found(text, language):
    assert language_of(text) == language


def test_the_usual_leading_is_that_of_running_text(typeset, read):
    facts_found = facts_of(read(typeset(f"#set par(leading: 0.5em)\n{PROSE}\n\n{PROSE}")))
    size = facts_found.text_type.size
    assert size == 10
    assert 10 < facts_found.leading_of(size) < 13


def test_a_page_ended_on_purpose_is_a_page_break_and_a_full_one_is_not(typeset, rebuilt):
    long = "\n\n".join(f"Paragraph {n}. {PROSE}" for n in range(14))
    document = rebuilt(typeset(f"= One\n{PROSE}\n#pagebreak()\n= Two\n{long}"))
    assert len(document.pages) == 3
    assert [block.text for block in text_blocks(document) if block.page_break] == ["Two"]


def test_two_pages_that_both_end_early_are_two(typeset, rebuilt):
    document = rebuilt(typeset(f"= One\n{PROSE}\n#pagebreak()\n= Two\n{PROSE}"))
    assert [block.text for block in text_blocks(document) if block.page_break] == ["Two"]


def test_a_title_spread_over_its_page_stays_alone_on_it(typeset, rebuilt):
    long = "\n\n".join(f"Paragraph {n}. {PROSE}" for n in range(14))
    title = "#align(center)[#text(20pt)[Tides at Skerrin] #v(1fr) Translated by the harbour office]"
    document = rebuilt(typeset(f"{title}\n#pagebreak()\n{long}"))
    assert [block.text[:12] for block in text_blocks(document) if block.page_break] == ["Paragraph 0."]


def test_a_page_of_centred_lines_is_centred_whichever_of_them_is_longest(typeset, rebuilt):
    lines = [
        "Tides",
        "Second part",
        "A manual for those who keep the gauges",
        "Skerrin",
        "Harbour office",
        "Pier 4",
        "1991",
    ]
    title = f"#align(center)[{' #v(9mm) '.join(lines)}]"
    margin = "#set page(margin: (left: 34mm, right: 14mm))"
    document = rebuilt(typeset(f"{margin}\n{title}\n#pagebreak()\n" + "\n\n".join([PROSE] * 5)))
    aligned = {block.text: block.align or document.style(block.style).align for block in text_blocks(document)}
    assert {aligned[line] for line in lines} == {Align.CENTER}


def test_a_sender_at_the_right_edge_is_one_block(typeset, rebuilt):
    document = rebuilt(typeset(f"#align(right)[*Skerrin Harbour Board* \\ Lower Quay 4 \\ Skerrin]\n\n{PROSE}"))
    assert texts(document) == ["Skerrin Harbour Board\nLower Quay 4\nSkerrin", PROSE]


def test_short_paragraphs_of_one_line_are_not_run_together(typeset, rebuilt):
    lines = [f"What the keeper saw in the part numbered {n}." for n in range(8)]
    assert texts(rebuilt(typeset("\n\n".join(lines)))) == lines


def test_superior_figures_are_told_by_their_shape(typeset, rebuilt):
    document = rebuilt(typeset("The well#super[2] is 34 cm wide, and 2 keepers#super[13] agree."))
    (block,) = text_blocks(document)
    assert [run.text for run in block.content if Marks.SUPER in run.marks] == ["2", "13"]


def test_a_single_line_that_begins_where_first_lines_do_is_not_in_the_middle(typeset, rebuilt):
    prose = (
        "The float was found hard against the guide wire, and the trace for the two days is lost to the office. " * 2
    )
    short = "It was pumped dry at once by the men of the yard."
    source = f"""#set par(first-line-indent: (amount: 60pt, all: true))
    {prose}

    {prose}

    {short}"""
    document = rebuilt(typeset(f"#set page(width: 450pt)\n#set text(size: 11pt)\n{source}"))
    block = next(block for block in document.blocks if block.text == short)
    assert (block.align or document.resolved_styles[block.style].align) is not Align.CENTER


def test_the_text_of_a_page_that_is_mostly_a_table_is_its_prose(typeset, read):
    prose = (
        "The float was found hard against the guide wire, and the trace for the two days is lost to the office. " * 3
    )
    cells = ", ".join(f"[Station {n}], [{n}.05]" for n in range(40))
    (page,) = read(typeset(f"#set text(size: 11pt)\n{prose}\n#text(size: 7pt)[#table(columns: 8, {cells})]"))
    assert facts_of([page]).text_type.size == 11
    assert facts_of([replace(page, lines=tuple(line for line in page.lines if line.size < 8))]).text_type.size == 7
