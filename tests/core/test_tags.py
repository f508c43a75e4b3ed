"""A file's own tags: used where they fit what its pages show, and where they do not, left alone and said."""

from __future__ import annotations

import io

import docx
import pytest
from docx.oxml.ns import qn
from msgspec.structs import replace
from PIL import Image

from evenquill.core.evidence import IN_NO_BLOCK, OUTSIDE, Tag
from evenquill.core.model import NoteRef, PictureBlock, RemarkKind, Role
from evenquill.core.queries import View, find_queries
from evenquill.core.queries.office import OfficeWords
from evenquill.core.rebuild import rebuild
from evenquill.core.rebuild.tags import with_trusted_tags
from evenquill.core.source import SourceFacts
from evenquill.core.writers.docx import write_docx

FACTS = SourceFacts(media="application/pdf", pages=1, language="en")
PROSE = (
    "The gauge at the middle stairs was read each hour from six in the morning, and the heights were entered in the book that is kept "
    "in the keeper’s room above the ice house, where it may be seen by all who ask for it at the office on the quay."
)


def document_of(pages):
    return rebuild(pages, FACTS)


def roles(document):
    return [(block.role, block.level) for block in document.blocks]


def kinds_said(document):
    return [remark.kind for remark in document.remarks]


def test_tags_are_read_with_the_lines_that_they_hold(typeset, read):
    (page,) = read(typeset(f"= Gauges\n\n{PROSE}\n\n- First item\n- Second item"))
    by_kind = {page.tags[line.tag].kind for line in page.lines if line.tag >= 0}
    assert {"H1", "P"} <= by_kind
    heading = next(line for line in page.lines if line.text == "Gauges")
    assert page.tags[heading.tag].heading_level == 1
    assert page.tags[next(line for line in page.lines if line.text.startswith("The gauge")).tag].heading_level == 0


def test_headings_that_do_not_look_like_any_are_known_by_their_tags(typeset, read):
    plain = '#show heading: it => block(text(size: 10pt, weight: "regular", it.body))\n'
    source = f"{plain}= Gauges in use\n\n{PROSE}\n\n=== The middle stairs\n\n{PROSE}"
    document = document_of(read(typeset(source)))
    assert roles(document) == [(Role.HEADING, 1), (Role.PARAGRAPH, 0), (Role.HEADING, 3), (Role.PARAGRAPH, 0)]
    assert document.remarks == ()


def test_bold_words_that_are_no_headings_by_their_tags_are_none(typeset, read):
    source = f"= Gauges in use\n\n{PROSE}\n\n#strong[Remarks of the keeper]\n\n{PROSE}"
    document = document_of(read(typeset(source)))
    assert [role for role, _ in roles(document)] == [Role.HEADING, *[Role.PARAGRAPH] * 3]


def test_a_large_title_without_a_tag_of_its_own_is_still_a_heading(typeset, read):
    source = f"#text(size: 20pt)[The gauges of Skerrin]\n\n{PROSE}\n\n= Gauges in use\n\n{PROSE}"
    document = document_of(read(typeset(source)))
    assert [role for role, _ in roles(document)] == [Role.HEADING, Role.PARAGRAPH, Role.HEADING, Role.PARAGRAPH]
    assert document.blocks[0].text == "The gauges of Skerrin"


def test_pages_without_tags_have_their_headings_beside_pages_with_them(typeset, read):
    (tagged,) = read(typeset(f"= Gauges in use\n\n{PROSE}", "one"))
    (other,) = read(typeset(f'#text(size: 14pt, weight: "bold")[Gauges given up]\n\n{PROSE}', "two"))
    bare = replace(other, number=2, tags=(), lines=tuple(line._replace(tag=OUTSIDE) for line in other.lines))
    pages = [tagged, bare]
    assert with_trusted_tags([tagged, tagged, tagged, bare])[1] == ()
    headings = [block.text for block in document_of(pages).blocks if block.role is Role.HEADING]
    assert headings == ["Gauges in use", "Gauges given up"]


def test_a_tag_that_says_heading_and_no_level_leaves_it_to_the_looks(typeset, read):
    (page,) = read(typeset(f"= Gauges in use\n\n{PROSE}\n\n= Gauges given up\n\n{PROSE}"))
    for kind in ("H", "Title"):
        tags = tuple(tag._replace(kind=kind) if n == 0 else tag for n, tag in enumerate(page.tags))
        document = document_of([replace(page, tags=tags)])
        assert [role for role, _ in roles(document)] == [Role.HEADING, Role.PARAGRAPH] * 2


def test_pictures_take_the_description_of_their_figure(typeset, read, tmp_path):
    Image.linear_gradient("L").resize((120, 90)).save(tmp_path / "float.png")
    source = f'{PROSE}\n\n#image("float.png", width: 60pt, alt: "The float of the gauge")\n\n{PROSE}'
    document = document_of(read(typeset(source)))
    (picture,) = [block for block in document.blocks if isinstance(block, PictureBlock)]
    assert picture.alt == "The float of the gauge"
    assert "picture" not in [query.kind for query in find_queries(document)]


@pytest.mark.parametrize(
    "source",
    [
        # Whole paragraphs as headings.
        f'#show heading: set text(size: 10pt, weight: "regular")\n= {PROSE}\n\n= {PROSE}\n\n= {PROSE}',
        # Most of the page is tagged as nothing.
        f"A word.\n\n#pdf.artifact[{PROSE}]\n\n#pdf.artifact[{PROSE}]",
    ],
)
def test_tags_that_lie_or_are_partial_are_not_used_and_that_is_said(typeset, read, source):
    pages = read(typeset(source))
    assert any(page.tags for page in pages)
    document = document_of(pages)
    assert kinds_said(document) == [RemarkKind.TAGS]
    assert not any(block.role is Role.HEADING for block in document.blocks)
    assert "tags" in [query.kind for query in find_queries(document)]
    words = [word for block in document.blocks for word in block.text.split()]
    assert words.count("gauge") == source.count("gauge")


def retagged(page, tag_of):
    """The page with a tag of its own for each line, or whatever else ``tag_of`` says by its place."""
    lines = tuple(line._replace(tag=tag_of(n)) for n, line in enumerate(page.lines))
    return replace(page, tags=(Tag("P"),) * len(lines), lines=lines)


@pytest.mark.parametrize("tag_of", [lambda n: n, lambda n: n % 2])
def test_tags_that_part_each_line_or_return_after_others_are_not_used(typeset, read, tag_of):
    (page,) = read(typeset("#set par(justify: true)\n" + "\n\n".join([PROSE] * 4)))
    assert with_trusted_tags([page])[1] == ()
    (bare,), said = with_trusted_tags([retagged(page, tag_of)])
    assert [remark.kind for remark in said] == [RemarkKind.TAGS]
    assert {line.tag for line in bare.lines} == {-1}
    assert [block.text for block in document_of([retagged(page, tag_of)]).blocks] == [PROSE] * 4


def test_pages_without_tags_are_left_as_they_are(typeset, read):
    pages = read(typeset(PROSE))
    bare, said = with_trusted_tags(
        [type(page)(page.number, page.width, page.height, lines=page.lines) for page in pages]
    )
    assert said == ()
    assert [line.text for page in bare for line in page.lines] == [line.text for page in pages for line in page.lines]


def test_what_a_file_leaves_out_of_its_tags_runs_at_the_edge_even_on_one_page(typeset, read):
    source = f"#set page(header: [Tide Gauge Office], footer: [Kept for ten years])\n= Gauges in use\n\n{PROSE}"
    (page,) = read(typeset(source))
    assert [block.text for block in document_of([page]).blocks] == ["Gauges in use", PROSE]
    (part,) = document_of([page]).running
    assert [run.text for pair in (part.usual.header, part.usual.footer) for run in pair.content] == [
        "Tide Gauge Office",
        "Kept for ten years",
    ]


def test_what_belongs_to_an_element_of_another_kind_does_not_run(typeset, read):
    (page,) = read(typeset(f"= Gauges in use\n\n#v(14pt)\n{PROSE}\n\n{PROSE}"))
    first = min(page.lines, key=lambda line: line.baseline)
    moved = tuple(
        line._replace(tag=IN_NO_BLOCK, size=9.0, words=tuple(w._replace(type=len(page.types)) for w in line.words))
        if line is first
        else line
        for line in page.lines
    )
    small = replace(page, lines=moved, types=(*page.types, page.types[0]._replace(size=9.0)))
    assert "Gauges in use" in [block.text for block in document_of([small]).blocks]
    outside = tuple(line._replace(tag=OUTSIDE) if line.tag == IN_NO_BLOCK else line for line in moved)
    assert "Gauges in use" not in [block.text for block in document_of([replace(small, lines=outside)]).blocks]


def test_items_out_of_sequence_are_items_by_their_tags_at_the_depth_of_their_list(typeset, read):
    two, lone = f"#enum(start: 7, [{PROSE}], [Second of two])", "#enum(start: 4, [A lone one of its list])"
    source = f"{PROSE}\n\n{two}\n\n{PROSE}\n\n{lone}\n- One\n  + Within it alone"
    (page,) = read(typeset(source))
    items = [b for b in document_of([page]).blocks if b.role is Role.LIST_ITEM]
    assert [(b.level, b.numbering.start, b.text.split()[0]) for b in items] == [
        (0, 7, "The"),
        (0, None, "Second"),
        (0, 4, "A"),
        (0, None, "One"),
        (1, 1, "Within"),
    ]


def test_notes_as_large_as_the_text_are_known_by_their_tags(typeset, read):
    large = "#show footnote.entry: set text(size: 10pt)\n#set footnote.entry(separator: none)\n#show super: it => [~#it.body]\n"
    (page,) = read(typeset(f"{large}{PROSE}#footnote[It was read at noon by the keeper.]\n\n{PROSE}"))
    document = document_of([page])
    assert [block.text for block in document.blocks if block.role is Role.NOTE] == [
        "It was read at noon by the keeper."
    ]
    assert any(isinstance(run, NoteRef) for block in document.blocks for run in block.content)
    bare = replace(page, tags=(), lines=tuple(line._replace(tag=OUTSIDE) for line in page.lines))
    assert [block for block in document_of([bare]).blocks if block.role is Role.NOTE] == []


GERMAN = "Der Pegel an der Treppe wurde jede Stunde abgelesen, und die Werte wurden in das Buch eingetragen, das dort im Hause liegt."


def test_paragraphs_in_another_language_say_so_down_to_the_docx(typeset, read):
    source = f'#set text(lang: "en")\n= Gauges in use\n\n{PROSE}\n\n#[#set text(lang: "de")\n\n{GERMAN}\n\n]\n\n{PROSE}'
    document = document_of(read(typeset(source)))
    assert [block.language for block in document.blocks] == ["", "", "de", ""]
    words = View(document, OfficeWords())
    german = next(token for row in words.rows for token in row if token.text == "Treppe")
    assert words.words_of(german).knows("Treppe")
    assert not words.words(1).knows("Treppe")
    opened = docx.Document(io.BytesIO(write_docx(document, {}.__getitem__)))
    said = [{lang.get(qn("w:val")) for lang in one._p.iter(qn("w:lang"))} for one in opened.paragraphs]
    assert said == [set(), set(), {"de-DE"}, set()]


def test_a_heading_by_its_tag_runs_at_no_edge_of_the_page(typeset, read):
    """The same words at the same height of several pages, and yet a heading of each."""
    page = "= Notes\n\n#v(30pt)\n{}\n\n#lorem(20)"
    source = "\n#pagebreak()\n".join(
        page.format(PROSE.replace("hour", word)) for word in ("hour", "day", "week", "month")
    )
    document = document_of(read(typeset(source)))
    assert [block.text for block in document.blocks if block.role is Role.HEADING] == ["Notes"] * 4
    assert document.running == ()
