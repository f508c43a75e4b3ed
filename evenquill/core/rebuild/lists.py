"""List items: which marks are real, how deep the items are, and where a numbering begins anew.

A bullet is taken at its word. A number is one only in sequence: it begins a list at one and has a successor, or carries one on.
"""

from __future__ import annotations

from dataclasses import dataclass

from evenquill.core.model import NumberFormat, Numbering, Role
from evenquill.core.rebuild.drafts import AnyDraft, Draft
from evenquill.core.rebuild.headings import stands_out
from evenquill.core.rebuild.marks import Number, readings

DEEPER = 0.5
"""Ems by which a mark stands further in to be one level deeper."""

FIRST_LINE = 2.5
"""Ems; the widest indent of first lines."""

DEEPEST = 8
"""Levels 0 to 8, as in ECMA-376 part 1, 17.9.3."""

DASHES = frozenset("-–—−")

DEPTH_BULLETS = ("•", "◦", "▪")
"""Our bullets by depth, for marks that are letters of a sign font and cannot be shown without it."""


@dataclass(slots=True)
class _Level:
    """An open list: where its marks stand and the last number given."""

    x: float
    number: Number | None
    sign: str


def find_lists(drafts: list[AnyDraft], text_look: tuple[float, bool]) -> None:
    """Turns drafts with real marks into list items; ``text_look`` is size and weight of running text."""
    levels: list[_Level] = []
    distance = 0
    for i, draft in enumerate(drafts):
        if not isinstance(draft, Draft) or draft.role is Role.NOTE:
            continue
        if not draft.marker:
            distance += 1
            if distance > 1 or stands_out(draft, text_look):
                levels.clear()
            continue
        size = draft.lines[0].size
        if draft.page != _page_before(drafts, i):
            # Marks of one depth may stand elsewhere on another page; depth is then judged by kind of mark.
            _shift_levels(levels, draft)
        while levels and draft.mark_x < levels[-1].x - DEEPER * size:
            levels.pop()
        # What carries the numbers on is of one depth with them, though it may be indented like a first line.
        carries_on = bool(levels) and draft.mark_x < levels[-1].x + FIRST_LINE * size and _follows(draft, levels[-1])
        deeper = not levels or (draft.mark_x > levels[-1].x + DEEPER * size and not carries_on)
        number = _number(draft.marker, None if deeper else levels[-1].number)
        if _is_number(draft.marker) and (
            number is None or stands_out(draft, text_look) or not _in_sequence(drafts, i, number, levels, deeper)
        ):
            continue
        starts = deeper or levels[-1].number is None or (number is not None and number.value == 1)
        if deeper:
            levels.append(_Level(draft.mark_x, number, draft.marker))
        else:
            levels[-1] = _Level(draft.mark_x, number, draft.marker)
        depth = min(len(levels) - 1, DEEPEST)
        _make_item(draft, depth, number, starts)
        distance = 0


def _follows(draft: Draft, level: _Level) -> bool:
    last = level.number
    return last is not None and any(
        number.format is last.format and number.pattern == last.pattern and number.value == last.value + 1
        for number in readings(draft.marker)
    )


def _page_before(drafts: list[AnyDraft], i: int) -> int:
    for draft in reversed(drafts[:i]):
        if isinstance(draft, Draft) and draft.role is Role.LIST_ITEM:
            return draft.lines[-1].page
    return drafts[i].page


def _shift_levels(levels: list[_Level], draft: Draft) -> None:
    for n, level in enumerate(levels):
        if _same_kind(level, draft.marker):
            shift = draft.mark_x - level.x
            for other in levels:
                other.x += shift
            del levels[n + 1 :]
            return


def _same_kind(level: _Level, marker: str) -> bool:
    if level.number is None:
        return level.sign == marker
    return any(number.format is level.number.format for number in readings(marker))


def _is_number(marker: str) -> bool:
    return bool(readings(marker))


def _number(marker: str, last: Number | None) -> Number | None:
    """The reading of a mark that follows the last number, or one that begins a sequence, or the first there is."""
    found = readings(marker)
    for number in found:
        if last and number.format is last.format and number.value == last.value + 1:
            return number
    for number in found:
        if number.value == 1:
            return number
    return found[0] if found else None


def _in_sequence(drafts: list[AnyDraft], i: int, number: Number, levels: list[_Level], deeper: bool) -> bool:
    last = None if deeper else levels[-1].number
    if last and last.format is number.format and last.value + 1 == number.value:
        return True
    ahead = (d for d in drafts[i + 1 : i + 30] if isinstance(d, Draft) and d.marker)
    follows = any(
        other.format is number.format and other.value == number.value + 1 and other.pattern == number.pattern
        for draft in ahead
        for other in readings(draft.marker)
    )
    return follows and (number.value == 1 or len(levels) > 0 or number.format is NumberFormat.DECIMAL)


def _make_item(draft: Draft, depth: int, number: Number | None, starts: bool) -> None:
    draft.role, draft.level = Role.LIST_ITEM, depth
    if number is not None:
        draft.numbering = Numbering(number.format, number.pattern, number.value if starts else None)
    else:
        draft.numbering = Numbering(NumberFormat.BULLET, _sign(draft, depth))
    draft.mark_box = draft.lines[0].words[0].box
    draft.lines[0] = draft.lines[0]._replace(
        words=(draft.lines[0].words[1]._replace(before=""), *draft.lines[0].words[2:])
    )


def _sign(draft: Draft, depth: int) -> str:
    """The bullet to show: dashes stay dashes, signs of strange fonts become ours."""
    sign = draft.marker
    if sign in DASHES:
        return "–"
    return DEPTH_BULLETS[depth % len(DEPTH_BULLETS)]
