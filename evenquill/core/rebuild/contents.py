"""Contents lists, and lists of figures and tables: lines that end in the number of a page, one entry after the other.

A run of them is one if the numbers go up and dots lead to them, or if a heading says so. An entry may take several lines; its depth is
told by how far in it begins.
"""

from __future__ import annotations

import itertools
import re
from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.layout.flow import FlowLine
from evenquill.core.layout.page import Column
from evenquill.core.model.numerals import roman_value
from evenquill.core.model.text import letters_of

FEWEST = 3
"""Entries of a contents list, where no heading announces it."""

RISING = 0.8
"""Share of entries whose page is not before that of the entry above."""

LED = 0.5
"""Share of entries to whose number dots lead, where no heading announces the list."""

MOST_LINES = 3
"""Lines of an entry."""

SAME_EDGE, SAME_INDENT = 4.0, 4.0
"""Points by which page numbers may miss their common right edge, and beginnings of entries of one depth differ."""

WIDE = 0.5
"""Share of the column that a line fills at least if the entry goes on in the next."""

TITLES = frozenset({
    "contents", "tableofcontents", "listoffigures", "listoftables", "listofexamples", "inhalt", "inhaltsverzeichnis",
    "abbildungsverzeichnis", "tabellenverzeichnis", "tabledesmatières", "sommaire", "matières", "listedesfigures", "listedestableaux",
    "tabledesfigures", "índice", "contenido", "sumario", "indice", "sommario", "sumário", "inhoud", "inhoudsopgave", "innehåll",
    "innehållsförteckning", "sisällys", "sisällysluettelo", "indhold", "indholdsfortegnelse", "innhold", "innholdsfortegnelse",
    "spistreści", "obsah",
})  # fmt: skip
"""What stands over contents lists, letters alone."""

_DOTS = re.compile(r"^[.…·\s]+$")
_NUMBER = re.compile(r"^(\d{1,4}|[A-Z]{1,2}-\d{1,3}|\d{1,2}-\d{1,3})$")


class Entry(NamedTuple):
    """The lines of an entry, with a tab before the page number; its depth from 1; the lines ``as_read``."""

    lines: tuple[FlowLine, ...]
    depth: int
    as_read: tuple[FlowLine, ...]


def contents_of(column: Column) -> dict[int, Entry]:
    """The entries of contents lists in a column, by the id of their first line."""
    lines = [item for item in column.items if isinstance(item, FlowLine)]
    out: dict[int, Entry] = {}
    for run in _runs(lines, column):
        starts = sorted({round(entry[0].x0) for entry in run})
        depths = _depths(starts)
        for entry in run:
            out[id(entry[0])] = Entry(_with_tab(entry), depths[round(entry[0].x0)], tuple(entry))
    return out


def _runs(lines: Sequence[FlowLine], column: Column) -> list[list[list[FlowLine]]]:
    """Contents lists as entries as lines."""
    ends = [_ends_in_page(line, column) for line in lines]
    runs: list[list[list[FlowLine]]] = []
    run: list[list[FlowLine]] = []
    part: list[FlowLine] = []
    above: FlowLine | None = None
    for line, is_end in zip(lines, ends, strict=True):
        if is_end:
            run.append([*part, line])
            part = []
            continue
        if run and len(part) < MOST_LINES - 1 and _may_go_on(part, line, run[-1][-1], column):
            part.append(line)
            continue
        if _is_list(run, above):
            runs.append(run)
        run, part = [], []
        above = line
    if _is_list(run, above):
        runs.append(run)
    return runs


def _ends_in_page(line: FlowLine, column: Column) -> bool:
    """Whether a line ends, at the right edge, in a number that is parted from the rest by a tab or by dots."""
    if len(line.words) < 2 or column.right - line.x1 > SAME_EDGE:
        return False
    last, before = line.words[-1], line.words[-2]
    if not _NUMBER.match(last.text) and not roman_value(last.text):
        return False
    return last.before == "\t" or last.leader or bool(_DOTS.match(before.text))


def _may_go_on(part: Sequence[FlowLine], line: FlowLine, entry: FlowLine, column: Column) -> bool:
    above = part[-1] if part else entry
    return (
        not line.tabbed
        and abs(line.size - entry.size) < 0.1 * entry.size
        and 0 < line.baseline - above.baseline < 2.2 * line.size
        and line.x1 - line.x0 > WIDE * (column.right - column.left)
    )


def _is_list(run: Sequence[Sequence[FlowLine]], above: FlowLine | None) -> bool:
    """Whether entries are a contents list; ``above`` is the line over them, which may say so."""
    if not run:
        return False
    announced = above is not None and letters_of(above.text) in TITLES
    if len(run) < FEWEST and not announced:
        return False
    pages = [_page(entry[-1]) for entry in run]
    rising = sum(a <= b for a, b in itertools.pairwise(pages)) >= RISING * (len(pages) - 1)
    led = sum(entry[-1].words[-1].leader or bool(_DOTS.match(entry[-1].words[-2].text)) for entry in run)
    return rising and (announced or led >= LED * len(run))


def _page(line: FlowLine) -> int:
    text = line.words[-1].text
    return roman_value(text) or int(re.sub(r"\D", "", text) or 0)


def _depths(starts: Sequence[int]) -> dict[int, int]:
    """Depths from 1 by where entries begin."""
    out: dict[int, int] = {}
    depth, last = 0, float("-inf")
    for start in starts:
        depth += start - last > SAME_INDENT
        last = start
        out[start] = depth
    return out


def _with_tab(entry: Sequence[FlowLine]) -> tuple[FlowLine, ...]:
    """The lines without the dots before the page number, which a tab takes the place of."""
    last = entry[-1]
    words = list(last.words)
    number = words.pop()
    while len(words) > 1 and _DOTS.match(words[-1].text):
        words.pop()
    words[-1] = words[-1]._replace(text=words[-1].text.rstrip(" …·") or words[-1].text)
    words.append(number._replace(before="\t", leader=True))
    return (*entry[:-1], last._replace(words=tuple(words)))
