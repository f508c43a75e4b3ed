"""Tab stops set by hand, and rows lined up: what should stand under each other and does not."""

from __future__ import annotations

import re
import statistics
from collections import Counter
from collections.abc import Sequence

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, splice, with_text_changed
from evenquill.core.edits.lookup import any_text, place_of_text, text_row
from evenquill.core.edits.tab_operations import LineUp, SetTabs
from evenquill.core.edits.words import moved_words
from evenquill.core.errors import EditError
from evenquill.core.model import Align, Document, Inline, Tab, TabStop, TextBlock
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import cut, joined, plain

WIDEST = 1584.0
"""Points; the furthest that a word processor sets a stop (22 inches)."""

MOST_STOPS = 60

_NONE = (Align.JUSTIFY, Align.DECIMAL)
"""Alignments that no stop of a row has."""

FEWEST_DOTS = 4
"""Dots, or lines under nothing, in a row that lead to what follows them."""

_GAP = re.compile(rf" {{3,}}|[ \t]*(?:[.…·_][ ]?){{{FEWEST_DOTS},}}[ \t]*|\t")
"""What parts the pieces of a row that is lined up: three spaces, a row of dots, a tab."""

SAME_STOP = 36.0
"""Points by which the stops of rows may miss their middle to be one: half an inch."""

ADVANCE, ROOM = 0.5, 12.0
"""Ems that a character takes on average, and points behind the longest piece, where no row has a stop."""


def set_tabs(document: Document, operation: SetTabs, ids: Ids) -> Edit:
    at = place_of_text(document, operation.block)
    _, block = any_text(document, operation.block)
    return with_text_changed(document, at, replace(block, tabs=checked_stops(operation.tabs)))


def checked_stops(stops: Sequence[TabStop]) -> tuple[TabStop, ...]:
    """The stops in order, one in each place; raises EditError for what no row can have."""
    if len(stops) > MOST_STOPS or any(not 0 < stop.at <= WIDEST or stop.align in _NONE for stop in stops):
        raise EditError("A tab stop stands between the left edge of the row and 55 cm from it.")
    found = {round(stop.at, 1): replace(stop, at=round(stop.at, 1)) for stop in stops}
    return tuple(found[at] for at in sorted(found))


def line_up(document: Document, operation: LineUp, ids: Ids) -> Edit:
    found = dict(text_row(document, block) for block in operation.blocks)
    rows = {at: _with_tabs(block) for at, block in found.items()}
    with_gaps = {at: row for at, row in rows.items() if _tabs_in(row)}
    if len(with_gaps) < 2:
        raise EditError("Fewer than two of these rows have a tab, a wide gap or a row of dots in them.")
    stops = common_stops(document, tuple(with_gaps.values()))
    changed = {at: replace(row, tabs=stops[: _tabs_in(row)]) for at, row in with_gaps.items()}
    if all(changed[at] == found[at] for at in changed):
        raise EditError("These rows are in line already.")
    first, last = min(changed), max(changed)
    return splice(
        document, first, last + 1 - first, tuple(changed.get(at, document.blocks[at]) for at in range(first, last + 1))
    )


def common_stops(document: Document, rows: Sequence[TextBlock]) -> tuple[TabStop, ...]:
    """The stops at which all rows are in line: of those that they have in one place the furthest that is not far off, so that what stands
    before it has room."""
    out: list[TabStop] = []
    for n in range(max(map(_tabs_in, rows))):
        with_tab = [row for row in rows if n < _tabs_in(row)]
        led = any(n < len(row.tabs) and row.tabs[n].leader for row in with_tab)
        own = [row.tabs[n] for row in with_tab if n < len(row.tabs) and row.tabs[n].at > 0]
        if own:
            align = Counter(stop.align for stop in own).most_common(1)[0][0]
            places = [stop.at for stop in own if stop.align is align]
            middle = statistics.median(places)
            at = max(place for place in places if place <= middle + SAME_STOP)
        else:
            # What dots lead to ends at its stop, and needs its own room.
            align = Align.RIGHT if led else Align.LEFT
            pieces = (n, n + 1) if led else (n,)
            room = max(sum(_width_of_piece(document, row, k) for k in pieces) for row in with_tab)
            at = (out[-1].at if out else 0.0) + room
        if out and at <= out[-1].at:
            at = out[-1].at + ROOM
        out.append(TabStop(round(at, 1), align, led))
    return checked_stops(out)


def _width_of_piece(document: Document, row: TextBlock, n: int) -> float:
    """Points that a piece between tabs takes, about, with room behind it."""
    return len(row.text.split("\t")[n]) * ADVANCE * document.style(row.style).size + ROOM


def _tabs_in(row: TextBlock) -> int:
    return sum(isinstance(item, Tab) for item in row.content)


def _with_tabs(row: TextBlock) -> TextBlock:
    """The row with a tab for each wide gap and row of dots, and a stop for each, at 0 where its place is not known; dots lead to what ends
    at its stop."""
    text = row.text
    gaps = [match for match in _GAP.finditer(text) if match.start() and match.end() < len(text)]
    if all(match.group() == "\t" for match in gaps):
        return row
    content: list[Inline] = []
    stops: list[TabStop] = []
    start = 0
    before = list(row.tabs)
    for match in gaps:
        content += cut(row.content, start, match.start())
        content.append(Tab())
        left, right = _ends_of_word(row, match.end())
        if "\t" in match.group() and before:
            stops.append(before.pop(0))
        elif any(c in ".…·_" for c in match.group()):
            stops.append(TabStop(right, Align.RIGHT, leader=True))
        else:
            stops.append(TabStop(left))
        start = match.end()
    content += cut(row.content, start)
    whole = joined(content)
    return replace(row, content=whole, tabs=tuple(stops), words=moved_words(row.words, text, plain(whole)))


def _ends_of_word(row: TextBlock, at: int) -> tuple[float, float]:
    """Where the word at a character begins and ends on the source, in points from the left edge of the row; 0 where that is not known."""
    word = next((word for word in row.words if word.start <= at < word.end), None)
    if word is None or not row.spots:
        return 0.0, 0.0
    left = row.spots[0].box.x0
    return round(word.box.x0 - left, 1), round(word.box.x1 - left, 1)
