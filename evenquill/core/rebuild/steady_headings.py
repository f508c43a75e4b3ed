"""Headings that were recognised, given one look where they are set alike: weight and colour of a few letters are measured badly, their
size, slant and capitals well.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Callable, Hashable, Iterable, Sequence
from typing import TypeVar

from evenquill.core.evidence import Type
from evenquill.core.layout.flow import FlowLine
from evenquill.core.rebuild.drafts import AnyDraft, Draft
from evenquill.core.rebuild.levels import look_of

_Value = TypeVar("_Value", bound=Hashable)

NEAR = 48
"""Steps of lightness, of 255, in each channel by which colours of headings may differ and be one."""


def with_steady_headings(drafts: Sequence[AnyDraft]) -> None:
    """Gives all headings on scans that are of one size and slant, in capitals or not, the weight and colour of most of their letters."""
    alike: defaultdict[Hashable, list[Draft]] = defaultdict(list)
    for draft in drafts:
        if isinstance(draft, Draft) and draft.likely_role == "heading" and _is_recognised(draft):
            look = look_of(draft)
            alike[look.size, look.italic, look.capitals].append(draft)
    for headings in alike.values():
        if len(headings) > 1:
            _make_alike(headings)


def _is_recognised(draft: Draft) -> bool:
    return any(word.confidence < 1 for line in draft.lines for word in line.words)


def _make_alike(headings: Sequence[Draft]) -> None:
    words = [word for draft in headings for line in draft.lines for word in line.words]
    bold = _most((word.type.bold, len(word.text)) for word in words)
    colour = _most((word.type.color, len(word.text)) for word in words)

    def steady(look: Type) -> Type:
        return look._replace(bold=bold, color=colour if _are_near(look.color, colour) else look.color)

    for draft in headings:
        draft.lines[:] = [_with_looks(line, steady) for line in draft.lines]


def _with_looks(line: FlowLine, steady: Callable[[Type], Type]) -> FlowLine:
    """The line with each of its looks made steady; words of one look still share it."""
    looks = {id(word.type): steady(word.type) for word in line.words}
    return line._replace(words=tuple(word._replace(type=looks[id(word.type)]) for word in line.words))


def _most(weighed: Iterable[tuple[_Value, int]]) -> _Value:
    counts: Counter[_Value] = Counter()
    for value, weight in weighed:
        counts[value] += weight
    return max(counts, key=lambda value: counts[value])


def _are_near(one: str | None, other: str | None) -> bool:
    """Whether two colours, ``rrggbb`` or None for black, are nearly one."""
    return all(
        abs(a - b) <= NEAR
        for a, b in zip(bytes.fromhex(one or "000000"), bytes.fromhex(other or "000000"), strict=True)
    )
