"""Level rules between the parts of a text become lines above and below its paragraphs, and of its running heads and feet.

A rule belongs to what is nearest to it. What word processors draw by themselves, above notes, and what is part of a table, a picture or
an equation, is none of these; nor is a line to write on, beside what it asks for.
"""

from __future__ import annotations

import itertools
from bisect import bisect_left
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from evenquill.core.evidence import PageEvidence
from evenquill.core.layout.furniture import Furniture
from evenquill.core.layout.tables.edges import joined_rules
from evenquill.core.model import Box, Role, Sides, union
from evenquill.core.model.blocks import NOTES
from evenquill.core.rebuild.drafts import AnyDraft, Draft, PictureDraft, TableDraft

REACH = 3.0
"""Ems between a rule and the text that it belongs to, at most: as large as the space is that sets a heading apart."""

COVERED, LONGEST = 0.6, 1.2
"""Shares of the width of its column that a line of a paragraph has at least and at most. What is shorter is an ornament or a place to
sign; what is longer belongs to all columns of the page."""

OVERLAP = 0.5
"""Share of a rule, or of the text where that is narrower, that lies over the other if they belong together."""

BESIDE, BELOW_LINE = 2.0, 0.35
"""Ems between a line of text and a rule to write on beside it; and by which that stands below the line's box, at most."""

ALIKE, FEWEST_PAGES, PAGES_SHARE = 2.0, 3, 0.5
"""Points by which rules that are drawn on every page differ in place; and the pages, and share of them, from which they are such."""


class RunningSides(NamedTuple):
    """The sides that have a line of what runs at the head and at the foot of a page."""

    head: Sides = Sides.NONE
    foot: Sides = Sides.NONE


class _Part(NamedTuple):
    """Something on a page that a rule can be near: its box, the left and right edge of its column; its paragraph, if a rule can be its, and
    whether it is the first and the last part of that; ``running`` is head or foot."""

    box: Box
    left: float
    right: float
    draft: Draft | None = None
    first: bool = True
    last: bool = True
    running: str = ""


def find_ruled_paragraphs(
    drafts: Sequence[AnyDraft], pages: Sequence[PageEvidence], furniture: Furniture, size: float
) -> dict[int, RunningSides]:
    """Gives drafts the sides that have a line; returns those of running heads and feet by page. ``size`` is that of the text."""
    ruled = {page.number: _level_rules(page) for page in pages}
    if not any(ruled.values()):
        return {}
    on_pages: dict[int, list[_Part]] = {page.number: list(_running(page, furniture)) for page in pages}
    for draft in drafts:
        for number, part in _parts(draft):
            on_pages[number].append(part)
    drawn_everywhere = _drawn_everywhere(ruled)
    running: dict[int, RunningSides] = {}
    for page in pages:
        for rule in ruled[page.number]:
            found = None if _is_beside_text(rule, page, size) else _owner(rule, on_pages[page.number], size)
            if found is None:
                continue
            part, side = found
            if part.running:
                own = running.get(page.number, RunningSides())
                running[page.number] = own._replace(**{part.running: getattr(own, part.running) | side})
            elif part.draft is not None and (page.number, rule) not in drawn_everywhere:
                part.draft.sides |= side
    return running


def _level_rules(page: PageEvidence) -> list[Box]:
    return [rule.box for rule in joined_rules(page.rules) if rule.horizontal]


def _parts(draft: AnyDraft) -> Iterator[tuple[int, _Part]]:
    """The parts of a draft on pages and columns, each with its page."""
    if isinstance(draft, PictureDraft):
        yield draft.page, _Part(draft.picture.box, draft.left, draft.right)
        return
    if isinstance(draft, TableDraft):
        for spot in draft.spots:
            yield spot.page, _Part(spot.box, draft.left, draft.right)
        return
    starts = [
        n
        for n, (above, line) in enumerate(itertools.pairwise(draft.lines), 1)
        if line.page != above.page or line.box.y0 < above.box.y0
    ]
    own = None if draft.role in NOTES or draft.role is Role.EQUATION else draft
    for start, end in itertools.pairwise((0, *starts, len(draft.lines))):
        box = union(line.box for line in draft.lines[start:end])
        left, right = min(draft.left, box.x0), max(draft.right, box.x1)
        if start:  # in another column, which is as wide
            left, right = box.x0, max(box.x0 + draft.right - draft.left, box.x1)
        yield draft.lines[start].page, _Part(box, left, right, own, not start, end == len(draft.lines))


def _running(page: PageEvidence, furniture: Furniture) -> Iterator[_Part]:
    """What runs at the head and at the foot of a page."""
    lines = [page.lines[n].box for n in furniture.lines.get(page.number, ())]
    if not lines:
        return
    left, right = min(line.box.x0 for line in page.lines), max(line.box.x1 for line in page.lines)
    for name, boxes in (
        ("head", [box for box in lines if box.center_y < page.height / 2]),
        ("foot", [box for box in lines if box.center_y >= page.height / 2]),
    ):
        if boxes:
            yield _Part(union(boxes), left, right, running=name)


def _drawn_everywhere(ruled: dict[int, list[Box]]) -> set[tuple[int, Box]]:
    """The rules, with their pages, that are drawn in one place on most pages: no lines of what happens to stand there."""
    places: list[tuple[float, ...]] = sorted(
        (rule.center_y, rule.x0, rule.x1, page) for page, rules in ruled.items() for rule in rules
    )
    out: set[tuple[int, Box]] = set()
    for page, rules in ruled.items():
        for rule in rules:
            near = places[bisect_left(places, (rule.center_y - ALIKE,)) : bisect_left(places, (rule.center_y + ALIKE,))]
            pages = {other for _, x0, x1, other in near if max(abs(x0 - rule.x0), abs(x1 - rule.x1)) <= ALIKE}
            if len(pages) >= max(FEWEST_PAGES, PAGES_SHARE * len(ruled)):
                out.add((page, rule))
    return out


def _is_beside_text(rule: Box, page: PageEvidence, size: float) -> bool:
    """Whether text stands on the line that a rule is drawn on, before or behind it."""
    return any(
        line.box.y0 < rule.center_y < line.box.y1 + BELOW_LINE * size
        and -size < max(rule.x0 - line.box.x1, line.box.x0 - rule.x1) < BESIDE * size
        for line in page.lines
    )


def _owner(rule: Box, parts: Sequence[_Part], size: float) -> tuple[_Part, Sides] | None:
    """What a rule belongs to, and the side of that on which it is drawn."""
    best: tuple[float, _Part, Sides] | None = None
    for part in parts:
        if rule.overlap_x(part.box) < OVERLAP * min(rule.width, part.box.width):
            continue
        above, below = rule.center_y - part.box.y1, part.box.y0 - rule.center_y
        gap, side = (above, Sides.BOTTOM) if above > below else (below, Sides.TOP)
        # The box of a line reaches a little below its letters; what lies deeper within is part of the thing itself.
        if gap < -BELOW_LINE * size:
            return None
        if best is None or gap < best[0]:
            best = gap, part, side
    if best is None or best[0] > REACH * size:
        return None
    _, part, side = best
    width = part.right - part.left
    column = Box(part.left, rule.y0, part.right, rule.y1)
    if rule.overlap_x(column) < COVERED * width or rule.width > LONGEST * width + size:
        return None
    return (part, side) if (part.first if side is Sides.TOP else part.last) else None
