"""Pages with little or nothing that models have seen: something sensible comes out, all that was there is there, nothing breaks."""

from __future__ import annotations

import pytest

from evenquill.core.evidence import Line, PageEvidence, Type, Word
from evenquill.core.model import Box, Family, TableBlock, texts_of
from evenquill.core.queries import find_queries
from evenquill.core.rebuild import rebuild
from evenquill.core.source import SourceFacts
from evenquill.core.writers.docx import write_docx

SENTENCE = "The float was found hard against the guide wire, and the trace for the two days is lost. "
OTHER = "Levels before and after are given in the book. They agree within two millimetres. "


def letters(document) -> str:
    said = "".join(text.text for block in document.blocks for text in texts_of(block))
    return "".join(c for c in said if c.isalnum())


@pytest.mark.parametrize(
    ("source", "said"),
    [
        ("Skerrin", "Skerrin"),
        ("#h(1fr) 7 #h(1fr)", "7"),
        ("#for n in range(9) [#box(width: 1fr, repeat[.]) \\ ]", ""),
        (f"#place(top)[{SENTENCE * 4}] #place(top, dx: 2pt, dy: 3pt)[{OTHER * 4}]", SENTENCE * 4 + OTHER * 4),
        ("#for n in range(12) [Name: #box(width: 1fr, line(length: 100%)) \\ ]", "Name" * 12),
        (f"#text(size: 0.5pt)[{SENTENCE}]", SENTENCE),
    ],
    ids=["one line", "one number", "leaders", "over each other", "form", "tiny"],
)
def test_pages_of_one_thing_alone_lose_nothing(typeset, rebuilt, source, said):
    document = rebuilt(typeset(source))
    wanted = "".join(c for c in said if c.isalnum())
    assert len(letters(document)) == len(wanted)
    find_queries(document)
    write_docx(document, lambda picture: b"")


def test_one_enormous_paragraph_is_one(typeset, rebuilt):
    document = rebuilt(typeset(f"#set par(justify: true)\n{SENTENCE * 220}"))
    assert len(document.pages) > 5
    assert [block.text for block in document.blocks] == [(SENTENCE * 220).strip()]


def test_a_document_of_tables_alone_is_tables(typeset, rebuilt):
    cells = ", ".join(f"[Gauge {n}], [{n}.4{n}], [{n * 7}]" for n in range(8))
    table = f"#table(columns: (1fr, 1fr, 1fr), [Name], [Metres], [Days], {cells})"
    document = rebuilt(typeset(f"{table}\n#pagebreak()\n{table.replace('Gauge', 'Well')}"))
    assert {type(block) for block in document.blocks} == {TableBlock}


@pytest.mark.parametrize("text", ["ထိုအခါ မြစ် ရေ", "ᠮᠣᠩᠭᠣᠯ ᠪᠢᠴᠢᠭ", "ⰳⰾⰰⰳⱁⰾⰻⱌⰰ", "𐌰𐌱𐌲 𐌳𐌴"])
@pytest.mark.parametrize("language", ["", "my", "en"])
def test_scripts_that_no_model_knows_come_through(text, language):
    plain = Type("Some", Family.SERIF, 10.0)
    lines = []
    for n in range(24):
        words = tuple(Word(word, 50 + 60.0 * k, 100 + 60.0 * k, 0) for k, word in enumerate(text.split() * 3))
        lines.append(Line(Box(50, 92 + 14.0 * n, words[-1].x1, 104 + 14.0 * n), 102 + 14.0 * n, 10.0, words))
    document = rebuild(
        [PageEvidence(1, 420, 595, types=(plain,), lines=tuple(lines))],
        SourceFacts(pages=1, language=language),
    )
    assert "".join(letters(document)).count(text.split()[0][0]) >= 24
    write_docx(document, lambda picture: b"")
