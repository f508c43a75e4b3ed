"""Contents lists, and lists of figures and tables: lines that end in the number of a page, one entry after the other.

A run of them is one if the numbers go up and dots lead to them, or if a heading says so, or if it carries on the list that the column
before ends with. An entry may take several lines; its depth is told by how far in it begins.
"""

from __future__ import annotations

import itertools
import re
from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.evidence import Line, PageEvidence
from evenquill.core.layout.flow import FlowLine
from evenquill.core.layout.rows import rows_of
from evenquill.core.model.numerals import roman_value
from evenquill.core.model.text import letters_of

FEWEST = 3
"""Entries of a contents list, where no heading announces it."""

RISING = 0.8
"""Share of entries whose page is not before that of the entry above."""

LED = 0.5
"""Share of entries to whose number dots lead, where no heading announces the list."""

FEWEST_LED, FEWEST_SORTED, SORTED = 2, 6, 0.95
"""Entries to which dots lead, as they do below chapters, that are enough where there are so many whose numbers rise so often."""

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
_LED = re.compile(r"(?:[.…·]\s*){4}\s*\S{0,7}$")
_LED_TO = re.compile(r"(?:[.…·]\s*){4}\s*(\d{1,4}|[ivxlc]{1,7})$")
_NUMBER = re.compile(r"^(\d{1,4}|[A-Z]{1,2}-\d{1,3}|\d{1,2}-\d{1,3})$")


class Entry(NamedTuple):
    """The lines of an entry, with a tab before the page number; its depth from 1; the lines ``as_read``."""

    lines: tuple[FlowLine, ...]
    depth: int
    as_read: tuple[FlowLine, ...]


def contents_of(lines: Sequence[FlowLine], left: float, right: float, *, carried: bool) -> dict[int, Entry]:
    """The entries of contents lists among the lines of a column, by the id of their first line.

    ``left`` and ``right`` are the column's edges, ``carried`` says that the column before ends with a contents list.
    """
    out: dict[int, Entry] = {}
    for run in _runs(lines, left, right, carried=carried):
        starts = sorted({round(entry[0].x0) for entry in run})
        depths = _depths(starts)
        for entry in run:
            out[id(entry[0])] = Entry(_with_tab(entry), depths[round(entry[0].x0)], tuple(entry))
    return out


def _runs(lines: Sequence[FlowLine], left: float, right: float, *, carried: bool) -> list[list[list[FlowLine]]]:
    """Contents lists as entries as lines."""
    ends = [_ends_in_page(line, right) for line in lines]
    runs: list[list[list[FlowLine]]] = []
    run: list[list[FlowLine]] = []
    part: list[FlowLine] = []
    announced = carried
    for line, is_end in zip(lines, ends, strict=True):
        if is_end:
            run.append([*part, line])
            part = []
            continue
        if run and len(part) < MOST_LINES - 1 and _may_go_on(part, line, run[-1][-1], WIDE * (right - left)):
            part.append(line)
            continue
        if _is_list(run, announced=announced):
            runs.append(run)
        run, part = [], []
        announced = letters_of(line.text) in TITLES
    if _is_list(run, announced=announced):
        runs.append(run)
    return runs


def _ends_in_page(line: FlowLine, right: float) -> bool:
    """Whether a line ends, at the right edge, in a number that is parted from the rest by a tab or by dots."""
    if len(line.words) < 2 or right - line.x1 > SAME_EDGE:
        return False
    last, before = line.words[-1], line.words[-2]
    if not _NUMBER.match(last.text) and not roman_value(last.text):
        return False
    return last.before == "\t" or last.leader or bool(_DOTS.match(before.text))


def _may_go_on(part: Sequence[FlowLine], line: FlowLine, entry: FlowLine, least: float) -> bool:
    """Whether a line, ``least`` points wide, may be one of an entry that ends in a later one."""
    above = part[-1] if part else entry
    return (
        not line.tabbed
        and abs(line.size - entry.size) < 0.1 * entry.size
        and 0 < line.baseline - above.baseline < 2.2 * line.size
        and line.x1 - line.x0 > least
    )


def _is_list(run: Sequence[Sequence[FlowLine]], *, announced: bool) -> bool:
    """Whether entries are a contents list; ``announced`` if a title, or the list that they carry on, says so."""
    if not run or (len(run) < FEWEST and not announced):
        return False
    pages = [_page(entry[-1]) for entry in run]
    rises = sum(a <= b for a, b in itertools.pairwise(pages)) / max(len(pages) - 1, 1)
    led = sum(_is_led(entry[-1]) for entry in run)
    if len(run) > 1 and rises < RISING:
        return False
    return announced or led >= LED * len(run) or (led >= FEWEST_LED and len(run) >= FEWEST_SORTED and rises >= SORTED)


class LedEntry(NamedTuple):
    """An entry to which dots lead: its middle and right end in points, and the number at its end."""

    y: float
    right: float
    number: int


def led_entries(page: PageEvidence) -> list[LedEntry]:
    """What stands on a page and ends in dots and the number of a page."""
    if not any(map(may_lead_to_page, page.lines)):
        return []
    out: list[LedEntry] = []
    for row in rows_of(line for line in page.lines if not line.angle):
        match = _LED_TO.search(" ".join(line.text for line in row))
        if match is not None:
            number = roman_value(match[1]) or int(re.sub(r"\D", "", match[1]) or 0)
            out.append(LedEntry(row[0].box.center_y, max(line.box.x1 for line in row), number))
    return out


def may_lead_to_page(line: Line) -> bool:
    """Whether a line ends with dots, and nothing but what may be a number behind them."""
    return bool(_LED.search(line.text))


def _is_led(line: FlowLine) -> bool:
    return line.words[-1].leader or bool(_DOTS.match(line.words[-2].text))


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
    """The lines without the dots before the page number, which a tab takes the place of, with a leader where there were any."""
    last = entry[-1]
    words = list(last.words)
    number = words.pop()
    while len(words) > 1 and _DOTS.match(words[-1].text):
        words.pop()
    words[-1] = words[-1]._replace(text=words[-1].text.rstrip(" …·") or words[-1].text)
    words.append(number._replace(before="\t", leader=_is_led(last)))
    return (*entry[:-1], last._replace(words=tuple(words)))
