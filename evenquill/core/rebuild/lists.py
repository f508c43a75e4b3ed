"""List items: which marks are real, how deep the items are, and where a numbering begins anew.

Which paragraphs are items is said by the models of structure, or by tags. Numbers that hold those of the levels above (``2.1.3``)
tell their depth themselves, wherever they stand.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType

from evenquill.core.layout.flow import FlowLine
from evenquill.core.model import NumberFormat, Numbering, Role
from evenquill.core.model.blocks import DEEPEST_LIST
from evenquill.core.rebuild.drafts import AnyDraft, Draft
from evenquill.core.rebuild.headings import may_be_numbered_title
from evenquill.core.rebuild.marks import CERTAIN, ListMark, Number, is_of_levels, list_mark, readings

DEEPER = 0.5
"""Ems by which a mark stands further in to be one level deeper."""

COLUMN = 8.0
"""Ems between the left edges of two columns, at least."""

FIRST_LINE = 2.5
"""Ems; the widest indent of first lines."""

AHEAD = 30
"""Paragraphs within which the next number of a clause is looked for."""

MAY_BE_ITEM = 0.1
"""Likelihood from which a paragraph is an item if it carries on the numbers of one."""

MAY_BE_NEXT_ITEM = 0.02
"""The same where the item is the paragraph next to it, and all text of both begins at one edge too."""

SAME_EDGE = 0.2
"""Ems by which marks at one edge may miss it."""

LIKE_ITEMS = 3
"""Items whose mark and text stand where those of a paragraph do, from which it is one, though it be the only one of its list."""

UNTAGGED: Mapping[int, int] = MappingProxyType({})

DASHES = frozenset("-–—−")

DEPTH_BULLETS = ("•", "◦", "▪")
"""Our bullets by depth, for marks that are letters of a sign font and cannot be shown without it."""


@dataclass(slots=True)
class _Level:
    """An open list: where its marks stand and the last number given."""

    x: float
    number: Number | None
    sign: str


def find_lists(drafts: list[AnyDraft], tagged: Mapping[int, int] = UNTAGGED) -> None:
    """Turns drafts that are said to be items, and have a mark, into list items.

    ``tagged`` gives the depth of those (by id) that the file's own tags call items.
    """
    levels: list[_Level] = []
    given: dict[tuple[int, ...], int] = {}  # the depths of the numbers that were given, by number and those above it
    distance = 0
    for i, draft in enumerate(drafts):
        if not isinstance(draft, Draft) or draft.role is Role.NOTE:
            continue
        if not _is_item(drafts, i, tagged, given):
            distance += 1
            if distance > 1 or draft.likely_role == "heading":
                levels.clear()
            continue
        if is_of_levels(draft.marker):
            depth, given_here = _clause(drafts, i, given)
            del levels[depth:]
            levels += [_Level(draft.mark_x, given_here, draft.marker) for _ in range(depth + 1 - len(levels))]
            _give(given, given_here, depth)
            distance = 0
            continue
        if id(draft) in tagged:
            depth = min(tagged[id(draft)], len(levels), DEEPEST_LIST)
            _make_tagged_item(draft, depth, levels, given)
            distance = 0
            continue
        size = draft.lines[0].size
        before = _item_before(drafts, i)
        if before is not None and _is_elsewhere(draft, before):
            # Marks of one depth may stand elsewhere in another column or on another page; depth is then judged by kind of mark.
            _shift_levels(levels, draft, draft.left - before.left)
        while levels and draft.mark_x < levels[-1].x - DEEPER * size:
            levels.pop()
        within_clause = bool(levels) and levels[-1].number is not None and bool(levels[-1].number.above)
        if within_clause:
            # Clauses of all depths may stand at one edge: what carries on an outer number ends the inner ones.
            outer = next((n for n, level in enumerate(levels[:-1]) if _follows(draft, level)), None)
            if outer is not None:
                del levels[outer + 1 :]
                within_clause = False
        # What carries the numbers on is of one depth with them, though it may be indented like a first line.
        carries_on = bool(levels) and draft.mark_x < levels[-1].x + FIRST_LINE * size and _follows(draft, levels[-1])
        deeper = not levels or within_clause or (draft.mark_x > levels[-1].x + DEEPER * size and not carries_on)
        number = _number(draft.marker, None if deeper else levels[-1].number)
        starts = deeper or levels[-1].number is None or (number is not None and number.value == 1)
        if deeper:
            levels.append(_Level(draft.mark_x, number, draft.marker))
        else:
            levels[-1] = _Level(draft.mark_x, number, draft.marker)
        depth = min(len(levels) - 1, DEEPEST_LIST)
        _make_item(draft, depth, number, starts)
        if number is not None:
            if starts and depth == 0 and number.format is NumberFormat.DECIMAL:
                given.clear()
            _give(given, number, depth)
        distance = 0


def find_items_that_carry_on(drafts: Sequence[AnyDraft]) -> None:
    """Makes items of paragraphs that may be some, where the number or letter that they begin with is the one before or after that of an
    item at the same edge, or the first one, set as several items of the document are: a list may have one item."""
    unsure = [
        (n, draft, mark)
        for n, draft in enumerate(drafts)
        if isinstance(draft, Draft) and draft.likely_role not in ("item", "heading")
        if draft.chance_of("item") >= MAY_BE_NEXT_ITEM
        if (mark := list_mark(draft.lines[0], of_item=True)) is not None and readings(mark.text)
    ]
    # What becomes an item may carry on to the one above or below it.
    for n, draft, mark in (*unsure, *reversed(unsure)):
        if draft.chance_of("item") >= MAY_BE_ITEM:
            near = [one for one in _paragraphs_near(drafts, n, AHEAD) if _is_next_to(one, draft.lines[0], mark)]
            set_as_items = _is_set_in(draft, mark) and _is_set_as_items(drafts, draft.lines[0], mark)
        else:
            beside = [one for one in _paragraphs_near(drafts, n, 1) if _is_next_to(one, draft.lines[0], mark)]
            near = [one for one in beside if _all_begins_at(one.text_x, draft, mark)]
            set_as_items = False
        if near or set_as_items:
            draft.likely_role = "item"
            draft.marker, draft.mark_x, draft.text_x = mark.text, draft.lines[0].x0, mark.text_x


def _paragraphs_near(drafts: Sequence[AnyDraft], n: int, reach: int) -> list[Draft]:
    """The paragraphs that are at most so many places from the one at a place."""
    around = (*drafts[max(n - reach, 0) : n], *drafts[n + 1 : n + 1 + reach])
    return [one for one in around if isinstance(one, Draft)]


def _all_begins_at(x: float, draft: Draft, mark: ListMark) -> bool:
    """Whether all text of a paragraph begins at a place, but for its mark."""
    return all(
        abs(x - start) <= SAME_EDGE * draft.lines[0].size
        for start in (mark.text_x, *(line.x0 for line in draft.lines[1:]))
    )


def _is_next_to(item: Draft, line: FlowLine, mark: ListMark) -> bool:
    """Whether an item stands at the edge of a line and has the number before or after its mark."""
    if item.likely_role != "item" or not item.marker or abs(item.mark_x - line.x0) > SAME_EDGE * line.size:
        return False
    return any(
        one.follows(other) or other.follows(one) for one in readings(mark.text) for other in readings(item.marker)
    )


def _is_set_in(draft: Draft, mark: ListMark) -> bool:
    """Whether a paragraph begins further in than its column, or its second line does where the text behind its mark begins: numbered
    paragraphs that do neither may be no items."""
    first, size = draft.lines[0], draft.lines[0].size
    hangs = len(draft.lines) > 1 and abs(draft.lines[1].x0 - mark.text_x) <= SAME_EDGE * size
    return hangs or first.x0 - draft.left > DEEPER * size


def _is_set_as_items(drafts: Sequence[AnyDraft], line: FlowLine, mark: ListMark) -> bool:
    """Whether a line that begins with the first number of a kind stands where several items with such numbers do, and so does its text."""
    first = {
        (number.format, number.pattern) for number in readings(mark.text) if number.value == 1 and not number.above
    }
    slack = SAME_EDGE * line.size
    return (
        sum(
            isinstance(one, Draft)
            and one.likely_role == "item"
            and bool(one.marker)
            and abs(one.mark_x - line.x0) <= slack
            and abs(one.text_x - mark.text_x) <= slack
            and any((number.format, number.pattern) in first for number in readings(one.marker))
            for one in drafts
        )
        >= LIKE_ITEMS
    )


def _is_item(drafts: list[AnyDraft], i: int, tagged: Mapping[int, int], given: Mapping[tuple[int, ...], int]) -> bool:
    """Whether a paragraph with a mark is an item: by its tag, its sign, what the models say, or the clauses that it carries on."""
    draft = drafts[i]
    assert isinstance(draft, Draft)
    if not draft.marker:
        return False
    if id(draft) in tagged:
        return True
    if is_of_levels(draft.marker) and may_be_numbered_title(draft):
        return False
    if draft.marker.isalnum() and not _has_neighbour(drafts, i):
        return False
    return draft.likely_role == "item" or draft.marker in CERTAIN or _is_clause(drafts, i, given)


def _has_neighbour(drafts: list[AnyDraft], i: int) -> bool:
    """Whether a number or letter without a sign has the one before it as a mark above, or the one after it below: what stands alone is a
    word or a figure of the text."""
    draft = drafts[i]
    assert isinstance(draft, Draft)
    above, below = (_bare_numbers(near) for near in (drafts[max(i - AHEAD, 0) : i], drafts[i + 1 : i + 1 + AHEAD]))
    own = readings(draft.marker)
    return any(number.follows(other) for number in own for other in above) or any(
        other.follows(number) for number in own for other in below
    )


def _bare_numbers(drafts: Sequence[AnyDraft]) -> list[Number]:
    return [
        number
        for draft in drafts
        if isinstance(draft, Draft) and draft.marker.isalnum()
        for number in readings(draft.marker)
    ]


def _make_tagged_item(draft: Draft, depth: int, levels: list[_Level], given: dict[tuple[int, ...], int]) -> None:
    """Makes an item of a draft whose depth its tag tells; ``levels`` and ``given`` are as they are after it."""
    before = levels[depth].number if depth < len(levels) else None
    number = _number(draft.marker, before)
    starts = before is None or number is None or not number.follows(before)
    del levels[depth:]
    levels.append(_Level(draft.mark_x, number, draft.marker))
    _make_item(draft, depth, number, starts)
    if number is not None:
        _give(given, number, depth)


def _give(given: dict[tuple[int, ...], int], number: Number, depth: int) -> None:
    """Notes that a number was given; only figures can stand in the numbers of the levels below."""
    if number.format is NumberFormat.DECIMAL:
        given[number.path] = depth


def _clause(drafts: list[AnyDraft], i: int, given: dict[tuple[int, ...], int]) -> tuple[int, Number]:
    """Makes an item of a draft whose mark holds the numbers above it, where that carries on what was given; its depth and number.

    Below numbers that were never given, those of headings, it begins a list of its own with these as they are.
    """
    draft = drafts[i]
    assert isinstance(draft, Draft)
    (number,) = readings(draft.marker)
    before = (*number.above, number.value - 1)
    if before in given:
        depth, starts = given[before], False
    elif number.value == 1 and number.above in given:
        depth, starts = min(given[number.above] + 1, DEEPEST_LIST), True
    else:
        depth, starts = 0, True
    fixed = "".join(f"{n}." for n in number.above[: len(number.above) - depth])
    _make_item(
        draft, depth, number._replace(pattern=fixed + "%." * min(depth, len(number.above)) + number.pattern), starts
    )
    return depth, number


def _is_clause(drafts: list[AnyDraft], i: int, given: Mapping[tuple[int, ...], int]) -> bool:
    """Whether a paragraph carries on the numbers of clauses that hold those above them, or begins such numbers, which go on soon."""
    draft = drafts[i]
    assert isinstance(draft, Draft)
    if not is_of_levels(draft.marker) or draft.likely_role == "heading":
        return False
    (number,) = readings(draft.marker)
    if (*number.above, number.value - 1) in given:
        return True
    ahead = [
        other
        for later in drafts[i + 1 : i + 1 + AHEAD]
        if isinstance(later, Draft) and later.marker
        for other in readings(later.marker)
    ]
    return number.value == 1 and any(other.follows(number) or other.above == number.path for other in ahead)


def _follows(draft: Draft, level: _Level) -> bool:
    last = level.number
    return last is not None and any(number.follows(last) for number in readings(draft.marker))


def _item_before(drafts: list[AnyDraft], i: int) -> Draft | None:
    found = (draft for draft in reversed(drafts[:i]) if isinstance(draft, Draft) and draft.role is Role.LIST_ITEM)
    return next(found, None)


def _is_elsewhere(draft: Draft, before: Draft) -> bool:
    """Whether a draft is on another page than the item before it, or in another column of its page."""
    beside = draft.columns > 1 and abs(draft.left - before.left) > COLUMN * draft.lines[0].size
    return draft.page != before.lines[-1].page or beside


def _shift_levels(levels: list[_Level], draft: Draft, apart: float) -> None:
    """Moves the levels to where marks stand now: by the mark of a level of its kind, else by as much as the columns are ``apart``."""
    for n, level in enumerate(levels):
        if _same_kind(level, draft.marker):
            shift = draft.mark_x - level.x
            for other in levels:
                other.x += shift
            del levels[n + 1 :]
            return
    for other in levels:
        other.x += apart


def _same_kind(level: _Level, marker: str) -> bool:
    if level.number is None:
        return level.sign == marker
    return any(
        number.format is level.number.format and len(number.above) == len(level.number.above)
        for number in readings(marker)
    )


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
