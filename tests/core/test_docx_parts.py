"""Parts of what is resolved for writers, and of the DOCX writer: lists, page setups, style ids, runs with fields."""

from __future__ import annotations

import re

import docx
import pytest
from hypothesis import given
from hypothesis import strategies as st
from lxml import etree

from evenquill.core.model import (
    Align,
    Box,
    Document,
    Marks,
    NoteRef,
    NumberFormat,
    Numbering,
    PageGeometry,
    ResolvedStyle,
    Role,
    RunningPair,
    RunningPart,
    TabStop,
    Text,
    TextBlock,
    UrlLink,
)
from evenquill.core.model.inline import joined
from evenquill.core.model.sections import page_setups
from evenquill.core.resolve.captions import caption_numbers
from evenquill.core.resolve.lists import LEVELS, lists_of
from evenquill.core.resolve.notes import Note, NoteKind
from evenquill.core.resolve.sections import Layout, ResolvedSection
from evenquill.core.writers.docx.embedding import Embedding, PictureParts
from evenquill.core.writers.docx.numbering import write_numbering
from evenquill.core.writers.docx.paragraphs import paragraph
from evenquill.core.writers.docx.running import RunningParts
from evenquill.core.writers.docx.sections import section_properties
from evenquill.core.writers.docx.styles import style_id, write_styles
from evenquill.core.writers.docx.xml import W, clean, element, emus, half_points, twips

BULLET = Numbering()
ONE = Numbering(NumberFormat.DECIMAL, "%.", 1)
ON = Numbering(NumberFormat.DECIMAL, "%.")
LETTER = Numbering(NumberFormat.LOWER_LETTER, "%)", 1)
STYLE = ResolvedStyle("Body text", "Body text")


def items(*described: tuple[int, Numbering | None]) -> tuple[TextBlock, ...]:
    """List items by depth and numbering; None stands for a paragraph between them."""
    return tuple(
        TextBlock(
            str(n), Role.LIST_ITEM if numbering else Role.PARAGRAPH, (Text("x"),), level=depth, numbering=numbering
        )
        for n, (depth, numbering) in enumerate(described)
    )


def numbers(*described: tuple[int, Numbering | None]) -> list[int | None]:
    blocks = items(*described)
    _, found = lists_of(blocks)
    return [found.get(block.id) for block in blocks]


def test_items_of_a_list_belong_together_with_what_is_nested():
    assert numbers((0, ONE), (1, LETTER), (0, ON), (1, LETTER)) == [1, 1, 1, 1]


def test_a_numbering_that_starts_again_is_a_list_of_its_own():
    assert numbers((0, ONE), (0, ON), (0, None), (0, ONE), (0, ON)) == [1, 1, None, 2, 2]


def test_bullets_and_numbers_on_one_level_are_two_lists():
    assert numbers((0, BULLET), (0, ONE), (0, BULLET)) == [1, 2, 3]


def test_bullets_within_numbers_share_their_list():
    assert numbers((0, ONE), (1, BULLET), (1, BULLET), (0, ON)) == [1, 1, 1, 1]


def test_what_is_set_aside_is_in_no_list():
    blocks = tuple(TextBlock(str(n), Role.LIST_ITEM, numbering=BULLET, excluded=n == 1) for n in range(3))
    _, found = lists_of(blocks)
    assert set(found) == {"0", "2"}


@given(st.lists(st.tuples(st.integers(0, 12), st.sampled_from([BULLET, ONE, ON, LETTER, None])), max_size=25))
def test_every_item_has_a_list_that_is_defined_on_its_level(described):
    blocks = items(*described)
    lists, found = lists_of(blocks)
    for block in blocks:
        if block.numbering is not None:
            definition = lists[found[block.id] - 1]
            held = definition.levels[min(block.level, LEVELS - 1)]
            assert (held.format, held.pattern) == (block.numbering.format, block.numbering.pattern)


def test_definitions_come_before_the_numbers_that_use_them():
    root = element("numbering")
    lists, _ = lists_of(items((0, ONE), (1, BULLET), (0, None), (0, ONE)))
    write_numbering(root, lists)
    assert [etree.QName(child).localname for child in root] == ["abstractNum", "abstractNum", "num", "num"]
    first = root[0].findall(f"{{{W}}}lvl")
    assert len(first) == LEVELS
    assert first[0].find(f"{{{W}}}lvlText").get(f"{{{W}}}val") == "%1."
    assert first[1].find(f"{{{W}}}numFmt").get(f"{{{W}}}val") == "bullet"


def page(width: float = 595.0, height: float = 842.0, left: float = 72.0, bottom: float = 770.0) -> PageGeometry:
    return PageGeometry(width, height, Box(left, 72, width - left, bottom))


def test_pages_of_one_size_share_a_setup_and_full_pages_tell_its_margins():
    short = page(left=200, bottom=120)
    found = page_setups([page(), short, page()])
    assert found[0] is found[1] is found[2]
    assert (found[0].left, found[0].right, found[0].top) == (72, 72, 72)
    assert found[0].text_width == pytest.approx(451)


def test_another_size_is_another_setup_and_absurd_ones_are_brought_within_bounds():
    portrait, landscape, huge = page_setups([page(), page(842, 595, bottom=500), page(90_000, 90_000)])
    assert landscape.width > landscape.height
    assert portrait != landscape
    assert huge.width == 1584
    assert page_setups([page(10, 10, left=1, bottom=9)])[0].width == 72
    assert page_setups([]) == []


def test_margins_leave_room_for_text():
    (narrow,) = page_setups([PageGeometry(595, 842, Box(290, 72, 300, 80))])
    assert narrow.text_width > 100


def test_a_landscape_section_says_so():
    (setup,) = page_setups([page(842, 595, bottom=500)])
    part = RunningPart("r1", first=RunningPair(), start=3)
    running = RunningParts(docx.Document(), Document(running=(part,)))
    xml = etree.tostring(section_properties(ResolvedSection(Layout(setup, part, 1), False, True, []), running)).decode()
    assert 'w:orient="landscape"' in xml
    assert 'w:start="3"' in xml
    assert "titlePg" in xml


@pytest.mark.parametrize(
    ("name", "expected"),
    [
        ("Body text", "BodyText"),
        ("Heading 1", "Heading1"),
        ("List item, depth 2", "ListItemDepth2"),
        ("Body text (bold)", "BodyTextBold"),
        ("—", "Style"),
    ],
)
def test_style_ids_have_letters_and_digits_only(name, expected):
    assert style_id(name) == expected


def test_known_styles_have_the_names_that_word_processors_know():
    root = etree.fromstring(
        f'<w:styles xmlns:w="{W}"><w:docDefaults><w:rPrDefault><w:rPr/></w:rPrDefault></w:docDefaults></w:styles>'
    )
    write_styles(
        root,
        (
            STYLE,
            ResolvedStyle("Heading 2", "Heading 2", outline=2),
            ResolvedStyle("our own", "Our own", first=-12, left=12),
        ),
        "fi",
    )
    names = [name.get(f"{{{W}}}val") for name in root.iter(f"{{{W}}}name")]
    assert names == ["Body Text", "heading 2", "Our own"]
    custom = [style.get(f"{{{W}}}customStyle") for style in root.iter(f"{{{W}}}style")]
    assert custom == [None, None, "1"]
    assert 'w:hanging="240"' in etree.tostring(root).decode()
    assert 'w:val="fi-FI"' in etree.tostring(root).decode()


NOTES = {
    "n": Note(NoteKind.FOOTNOTE, 4, TextBlock("n")),
    "e": Note(NoteKind.ENDNOTE, 2, TextBlock("e")),
}


def made(*runs: Text, **more) -> str:
    block = TextBlock("a", content=joined(runs), style="Body text", **more)
    embedding = Embedding(docx.Document().part, PictureParts(lambda picture: b""))
    return etree.tostring(paragraph(block, STYLE, embedding, NOTES)).decode()


def test_tabs_breaks_and_spaces_are_written_as_such():
    xml = made(Text("a\tb\nc  d"), tabs=(TabStop(100, Align.RIGHT, True), TabStop(200)))
    assert xml.count("<w:tab/>") == 1
    assert xml.count("<w:br/>") == 1
    assert ">c  d</w:t>" in xml
    assert 'w:leader="dot"' in xml
    assert 'w:pos="2000"' in xml


def test_neighbouring_runs_of_one_link_are_one_link():
    xml = made(
        Text("see "),
        Text("the ", link=UrlLink("https://a.example")),
        Text("page", Marks.BOLD, link=UrlLink("https://a.example")),
        Text("."),
    )
    assert xml.count("<w:hyperlink") == 1
    assert re.search(r':id="rId\d+"', xml)


def test_marks_of_notes_are_references_and_of_lost_notes_are_text():
    assert 'w:footnoteReference w:id="4"' in made(NoteRef("n", "1"))
    endnote = made(NoteRef("e", "2"))
    assert 'w:endnoteReference w:id="2"' in endnote
    assert 'w:val="EndnoteReference"' in endnote
    assert 'w:vertAlign w:val="superscript"' in made(NoteRef("lost", "2"))


def test_the_numbers_of_captions_count_on_and_begin_anew_where_they_jump():
    texts = [
        "Figure 1: a well",
        "Table 1. Heights",
        "Figure 2 – a float",
        "Figure 7: a clock",
        "Figure 2.1: a hut",
        "Fig. 8: a boat",
    ]
    captions = [TextBlock(f"c{n}", role=Role.CAPTION, content=(Text(text),)) for n, text in enumerate(texts)]
    fields = caption_numbers([TextBlock("p", content=(Text("Figure 9 is lost."),)), *captions])
    assert {block: (field.sequence, field.reset) for block, field in fields.items()} == {
        "c0": ("Figure", None),
        "c1": ("Table", None),
        "c2": ("Figure", None),
        "c3": ("Figure", 7),
        "c5": ("Fig", 8),
    }
    anew = etree.tostring(paragraph(captions[3], STYLE, str, {}, number=fields["c3"])).decode()
    assert " SEQ Figure \\r 7 \\* ARABIC " in anew
    written = etree.tostring(paragraph(captions[2], STYLE, str, {}, number=fields["c2"])).decode()
    assert "".join(etree.fromstring(written).itertext(f"{{{W}}}t")) == "Figure 2 – a float"
    assert written.index('fldCharType="separate"') < written.index(">2<") < written.index('fldCharType="end"')


@pytest.mark.parametrize(
    ("pattern", "depth", "text"),
    [
        ("%.", 0, "%1."),
        ("(%)", 2, "(%3)"),
        ("%.%.", 1, "%1.%2."),
        ("%.%.%", 2, "%1.%2.%3"),
        ("4.%", 0, "4.%1"),
        ("4.%.%", 1, "4.%1.%2"),
    ],
)
def test_patterns_say_which_level_each_number_is_of(pattern, depth, text):
    items = [
        TextBlock(
            f"i{n}",
            role=Role.LIST_ITEM,
            level=n,
            numbering=Numbering(NumberFormat.DECIMAL, "%." if n < depth else pattern, 1),
        )
        for n in range(depth + 1)
    ]
    root = element("numbering")
    write_numbering(root, lists_of(tuple(items))[0])
    level = root.findall(f".//{{{W}}}lvl")[depth]
    assert level.find(f"{{{W}}}lvlText").get(f"{{{W}}}val") == text


def test_measures_and_forbidden_signs():
    assert (twips(1.5), half_points(10.5), emus(1)) == (30, 21, 12_700)
    assert clean("a\x00b\ufffec\ud800d\te\n") == "a\ufffdb\ufffdc\ufffdd\te\n"
