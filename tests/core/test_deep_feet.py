"""Running feet of many rows: blocks beside each other whose lines stand at heights of their own."""

from __future__ import annotations

from evenquill.core.evidence import Line, PageEvidence, Type, Word
from evenquill.core.layout import find_furniture
from evenquill.core.model import Align, Box, Family
from evenquill.core.model.inline import readable
from tests.conftest import texts

TEXT = "The keeper wrote down what the gauge had shown at each tide, and the office kept what he wrote. "

LEFT, MIDDLE = (
    ("Harbour office", "Tide Street 4", "Second floor", "Telephone 204"),
    ("Account 17 204", "Bank of the harbour"),
)


def stacked(rows: tuple[str, ...], space: str) -> str:
    return f"[#stack(spacing: {space}, {', '.join(f'[{row}]' for row in rows)})]"


def foot(distance: str) -> str:
    left, middle = stacked(LEFT, "4pt"), stacked(MIDDLE, "7pt")
    grid = f"grid(columns: 3, column-gutter: 1fr, {left}, {middle}, {left})"
    return f"#set page(footer-descent: {distance}, margin: (bottom: 34mm), footer: text(7pt, {grid}))"


def test_what_every_page_says_at_its_foot_runs_whatever_number_of_rows_it_has(typeset, rebuilt):
    paragraphs = [f"{5 * TEXT}{n}." for n in range(14)]
    document = rebuilt(typeset(f"{foot('8mm')}\n" + "\n\n".join(paragraphs)))
    assert len(document.pages) >= 3
    assert [text.split()[-1] for text in texts(document)] == [f"{n}." for n in range(14)]
    assert not any(row in " ".join(texts(document)) for row in (*LEFT, *MIDDLE))


def test_rows_of_a_foot_that_are_nothing_but_numbers_run_too(typeset, rebuilt):
    numbers = ("27679044", "43983422", "12124203", "961474135", "4800636", "7720118")
    rows = f"#set page(margin: (bottom: 40mm), footer: text(7pt)[{'#linebreak() '.join(numbers)}])"
    document = rebuilt(typeset(f"{rows}\n" + "\n\n".join(f"{5 * TEXT}{n}." for n in range(14))))
    assert len(document.pages) >= 3
    assert not any(number in " ".join(texts(document)) for number in numbers)


def test_what_runs_keeps_what_its_formulas_say(typeset, rebuilt):
    head = "#set page(header: [Using the tools #h(1fr) $R = 1.7$])"
    paragraphs = [f"{5 * TEXT}{n}." for n in range(8)]
    document = rebuilt(typeset(f"{head}\n" + "\n\n".join(paragraphs)))
    (part,) = document.running
    assert readable(part.usual.header.content) == "Using the tools\t\tR=1.7"


def test_what_runs_in_the_middle_of_the_page_is_there_where_the_text_is_set_in(typeset, rebuilt):
    head = "#set page(header: align(center)[Gauges])\n#set par(justify: true)"
    document = rebuilt(typeset(f"{head}\n#pad(left: 30mm)[{'#parbreak() '.join([5 * TEXT] * 8)}]"))
    (part,) = document.running
    assert document.style(part.usual.header.style).align is Align.CENTER


def row(y: float, text: str, size: float) -> Line:
    words, x = [], 50.0
    for word in text.split():
        words.append(Word(word, x, x + len(word) * size / 2, int(size < 10)))
        x = words[-1].x1 + size / 4
    return Line(Box(50, y - 0.8 * size, words[-1].x1, y + 0.2 * size), y, size, tuple(words))


def test_a_foot_close_below_a_full_page_runs_as_it_does_on_others():
    types = (Type("Serif", Family.SERIF, 10.0), Type("Serif", Family.SERIF, 8.0))
    foot = [row(548 + 9 * n, text, 8.0) for n, text in enumerate(LEFT[:3])]
    pages = [
        PageEvidence(
            n, 400, 600, types=types, lines=(*(row(60 + 12 * k, f"{TEXT}{n} {k}", 10.0) for k in range(count)), *foot)
        )
        for n, count in ((1, 41), (2, 41), (3, 12))
    ]
    furniture = find_furniture(pages)
    assert {n: len(lines) for n, lines in furniture.lines.items()} == {1: 3, 2: 3, 3: 3}
