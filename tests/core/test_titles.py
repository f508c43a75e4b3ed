"""The title of a document, and the lines around it that look like headings and are none."""

from __future__ import annotations

from evenquill.core.model import Role
from evenquill.core.model.styles import resolved_styles
from tests.conftest import block_with, text_blocks, texts

TEXT = (
    "The keeper wrote down what the gauge had shown at each tide, and the office kept what he had written for as long as "
    "the ink could be read. Each spring a boat brought wire, paper and oil, and took the books of the year with it. "
)

SECTIONS = "\n".join(
    f"#block(text(weight: 700)[{name}])\n\n{2 * TEXT}\n" for name in ("The gauges", "The wells", "The clock")
)


def test_a_title_has_a_style_of_its_own_and_is_a_heading(typeset, rebuilt):
    document = rebuilt(typeset(f"#align(center, text(20pt)[Gauges and their keepers])\n\n{SECTIONS}", paper="a4"))
    title = block_with(document, "Gauges and their keepers")
    assert (title.role, title.level, title.style) == (Role.HEADING, 1, "Title")
    assert [style.outline for style in resolved_styles(document.styles) if style.name == "Title"] == [1]
    assert all(block.style.startswith("Heading") for block in text_blocks(document)[1:] if block.role is Role.HEADING)


def test_sections_that_look_alike_have_no_title_among_them(typeset, rebuilt):
    document = rebuilt(typeset(SECTIONS, paper="a4"))
    assert len(texts(document, Role.HEADING)) == 3
    assert "Title" not in {block.style for block in text_blocks(document)}


def test_only_the_largest_line_of_a_cover_is_a_heading(typeset, rebuilt):
    cover = """#align(center)[#v(30mm) #text(14pt, weight: 700)[Harbour office] #v(20mm) #text(24pt, weight: 700)[Gauges and their keepers]
    #v(8mm) #text(15pt, weight: 700)[A book for those who begin] #v(50mm) #text(12pt, weight: 700)[Spring]] #pagebreak()"""
    document = rebuilt(typeset(f"{cover}\n{SECTIONS}", paper="a4"))
    assert texts(document, Role.HEADING) == ["Gauges and their keepers", "The gauges", "The wells", "The clock"]


def test_a_line_below_the_title_that_no_heading_looks_like_heads_nothing(typeset, rebuilt):
    head = """#align(center)[#text(20pt, weight: 700)[Gauges and their keepers]

    #text(12pt, style: "italic", weight: 700)[What they do all day]]"""
    sections = SECTIONS.replace("weight: 700", "13pt, weight: 700")
    document = rebuilt(typeset(f"{head}\n\n{sections}", paper="a4"))
    assert texts(document, Role.HEADING) == ["Gauges and their keepers", "The gauges", "The wells", "The clock"]


def test_terms_that_look_like_headings_are_terms(typeset, rebuilt):
    terms = "\n".join(
        f"#block(below: 4pt, text(weight: 700)[{term}])\n#pad(left: 8mm)[{TEXT}]"
        for term in ("Float", "Staff", "Orifice")
    )
    document = rebuilt(typeset(f"= Words\n\n{TEXT}\n\n{terms}\n\n{SECTIONS}", paper="a4"))
    assert not {"Float", "Staff", "Orifice"} & set(texts(document, Role.HEADING))
