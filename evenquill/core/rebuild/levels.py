"""Levels of headings, the same for one look through the whole document.

Of any two looks that headings have, a fitted model says how likely it is that one stands above the other, from how they are set, where they
first appear and which follows which; all looks are put in the order that these agree with best (by the sum of their odds, after Borda).
"""

from __future__ import annotations

import itertools
import math
import re
import statistics
from collections import Counter
from collections.abc import Iterable, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from evenquill.core.fitted.trees import UNMEASURED, trees_of
from evenquill.core.layout.flow import SMALL_CAPITALS
from evenquill.core.rebuild.drafts import AnyDraft, Draft
from evenquill.core.rebuild.series import levels_by_series, place_of

ORDERS = ("below", "same", "above")
"""How the level of one look stands to that of another."""

FAR = 10.0
"""Ems beyond which a distance tells no more."""

CENTRED = 0.5
"""Ems by which the middle of a line may be off that of its column if it is centred."""

OWN_FEATURES = (
    "bold", "capitals", "italic", "depth", "numbered", "counted", "centred", "indent", "gap", "page_top", "alone", "share", "lines",
    "colon", "single", "preceded",
)  # fmt: skip
"""Of a look by itself; of two looks the differences are measured."""

ORDER_FEATURES = (
    "size", *OWN_FEATURES, *(f"own_{name}" for name in OWN_FEATURES), *(f"other_{name}" for name in OWN_FEATURES), "count", "first",
    "first_of_all", "other_first_of_all", "leads", "led", "next", "before", "gap_between", "looks",
)  # fmt: skip

LARGER = 1.15
"""Times the size of the text from which headings are larger."""

SECTION_NUMBER = re.compile(r"^(\d{1,3}(?:\.\d{1,3})*)\.?\s")


class Look(NamedTuple):
    """How a heading is set: size, weight, slant, capitals, of which small ones are another look."""

    size: float
    bold: bool
    italic: bool
    capitals: bool
    small_capitals: bool


class Group(NamedTuple):
    """Headings of one look and depth of number: their places among all headings, and the headings."""

    look: Look
    depth: int
    places: tuple[int, ...]
    headings: tuple[Draft, ...]


def look_of(draft: Draft) -> Look:
    """How a heading is set."""
    text = "".join(line.printed for line in draft.lines)
    capitals = text.isupper() and sum(map(str.isalpha, text)) > 3
    main = draft.type
    bold = all(word.type.bold for line in draft.lines for word in line.words if word.text[:1].isalnum())
    small = any(bool(word.marks & SMALL_CAPITALS) for line in draft.lines for word in line.words)
    return Look(main.size, bold, main.italic, capitals, small)


def depth_of(text: str) -> int:
    """How many numbers a heading begins with, parted by points; 0 for none."""
    match = SECTION_NUMBER.match(text)
    return match.group(1).count(".") + 1 if match else 0


def levels_of(headings: Sequence[Draft], drafts: Sequence[AnyDraft]) -> list[int]:
    """The level of each heading among the drafts, from 1."""
    groups = groups_of(headings, drafts)
    ranks = ranks_of(_odds(groups, headings, drafts)) if len(groups) > 1 else [1] * len(groups)
    levels = {place: rank for group, rank in zip(groups, ranks, strict=True) for place in group.places}
    texts = [draft.text for draft in headings]
    return levels_by_number(texts, levels_by_series(texts, [levels[n] for n in range(len(headings))]))


def levels_by_number(texts: Sequence[str], levels: Sequence[int]) -> list[int]:
    """The levels of headings, each right below that of the section whose number its own goes on: ``2.1.1`` below ``2.1``, whatever they
    look like."""
    of_number: dict[str, int] = {}
    out = []
    for text, level in zip(texts, levels, strict=True):
        match = SECTION_NUMBER.match(text)
        if match is not None:
            parent = of_number.get(match.group(1).rpartition(".")[0])
            level = level if parent is None else parent + 1
            of_number[match.group(1)] = level
        out.append(level)
    return out


def groups_of(headings: Sequence[Draft], drafts: Sequence[AnyDraft]) -> list[Group]:
    """The headings by look and depth of number, in the order in which these first appear; one look with and without numbers is one group:
    "Contents" beside "1 Purpose". Where none is larger than the text among the ``drafts``, the first heading without a number may be the
    title that is set as the others are: it is a group of its own."""
    keys = [(look_of(draft), depth_of(draft.text)) for draft in headings]
    least: dict[Look, int] = {}
    for look, depth in keys:
        if depth:
            least[look] = min(depth, least.get(look, depth))
    places: dict[tuple[Look, int], list[int]] = {}
    largest = max((look.size for look, _ in keys), default=0.0)
    title = (
        bool(keys) and keys[0][1] == 0 and place_of(headings[0].text) is None and largest < LARGER * usual_size(drafts)
    )
    for n, (look, depth) in enumerate(keys[title:], int(title)):
        places.setdefault((look, depth or least.get(look, 0)), []).append(n)
    others = [Group(look, depth, tuple(own), tuple(headings[n] for n in own)) for (look, depth), own in places.items()]
    return [Group(*keys[0], (0,), (headings[0],)), *others] if title else others


def usual_size(drafts: Sequence[AnyDraft]) -> float:
    """The size that most lines of the drafts have, in points; 0 where there are none."""
    sizes = Counter(line.size for draft in drafts if isinstance(draft, Draft) for line in draft.lines)
    return max(sizes, key=lambda size: (sizes[size], -size), default=0.0)


def _odds(groups: Sequence[Group], headings: Sequence[Draft], drafts: Sequence[AnyDraft]) -> NDArray[np.float64]:
    """Probabilities of shape (groups, groups, 3) that the first stands below, beside or above the second (ORDERS)."""
    count = len(groups)
    measures = np.array(order_features(groups, headings, drafts), np.float32)
    found = np.exp(trees_of("levels").log_probabilities(measures)).astype(np.float64)
    odds = np.full((count, count, len(ORDERS)), 1 / len(ORDERS))
    for (one, other), own in zip(itertools.permutations(range(count), 2), found, strict=True):
        odds[one, other] = own
    # What is said of one and the other must be the same as of the other and the one.
    both: NDArray[np.float64] = (odds + odds.transpose(1, 0, 2)[:, :, ::-1]) / 2
    return both


def ranks_of(odds: NDArray[np.float64]) -> list[int]:
    """The level of each group: those that most probably stand above most others first, those that are one level together."""
    count = len(odds)
    above = [sum(float(odds[n, m, 2] - odds[n, m, 0]) for m in range(count) if m != n) for n in range(count)]
    order = sorted(range(count), key=lambda n: -above[n])
    levels: list[list[int]] = []
    for group in order:
        if levels and all(odds[other, group].argmax() == ORDERS.index("same") for other in levels[-1]):
            levels[-1].append(group)
        else:
            levels.append([group])
    return [next(rank for rank, own in enumerate(levels, 1) if group in own) for group in range(count)]


def order_features(
    groups: Sequence[Group], headings: Sequence[Draft], drafts: Sequence[AnyDraft]
) -> list[tuple[float, ...]]:
    """The measures of each ordered pair of groups (ORDER_FEATURES), as ``itertools.permutations`` has them."""
    place = {id(draft): n for n, draft in enumerate(drafts)}
    places = [place[id(draft)] for draft in headings]
    group_of = {n: k for k, group in enumerate(groups) for n in group.places}
    steps = [(group_of[n], group_of[n + 1], places[n + 1] - places[n] == 1) for n in range(len(headings) - 1)]
    own = [_own(group, places, len(headings)) for group in groups]
    return [_between(groups, own, steps, one, other) for one, other in itertools.permutations(range(len(groups)), 2)]


def _own(group: Group, places: Sequence[int], count: int) -> tuple[float, ...]:
    """OWN_FEATURES of a group."""
    headings = group.headings
    size = max(group.look.size, 1.0)
    firsts = [draft.lines[0] for draft in headings]
    apart = [
        abs(line.x0 - draft.left - (draft.right - line.x1)) / size for line, draft in zip(firsts, headings, strict=True)
    ]
    alone = sum(n + 1 == count or places[n + 1] - places[n] > 1 for n in group.places)
    return (
        float(group.look.bold),
        float(group.look.capitals),
        float(group.look.italic),
        float(group.depth),
        float(group.depth > 0),
        _share(place_of(draft.text) is not None for draft in headings),
        _share(value < 2 * CENTRED and draft.indent > size for value, draft in zip(apart, headings, strict=True)),
        min(statistics.median(draft.indent for draft in headings) / size, FAR),
        min(statistics.median(draft.gap for draft in headings) / size, FAR),
        _share(draft.page_top for draft in headings),
        alone / len(headings),
        len(headings) / count,
        statistics.mean(len(draft.lines) for draft in headings),
        _share(draft.text.endswith((":", ".")) for draft in headings),
        float(len(headings) == 1),
        min(float(places[group.places[0]]), FAR),
    )


def _share(values: Iterable[bool]) -> float:
    own = list(values)
    return sum(own) / max(len(own), 1)


def _between(
    groups: Sequence[Group],
    own: Sequence[tuple[float, ...]],
    steps: Sequence[tuple[int, int, bool]],
    one: int,
    other: int,
) -> tuple[float, ...]:
    a, b = groups[one], groups[other]
    leads = sum(step == (one, other, True) for step in steps)
    led = sum(step == (other, one, True) for step in steps)
    behind = sum(step[:2] == (one, other) for step in steps)
    before = sum(step[:2] == (other, one) for step in steps)
    depths = OWN_FEATURES.index("depth")
    differences = [x - y for x, y in zip(own[one], own[other], strict=True)]
    if not (a.depth and b.depth):
        differences[depths] = UNMEASURED
    return (
        math.log(max(a.look.size, 1.0) / max(b.look.size, 1.0)),
        *differences,
        *own[one],
        *own[other],
        math.log(len(a.places) / len(b.places)),
        float(a.places[0] < b.places[0]),
        float(a.places[0] == 0),
        float(b.places[0] == 0),
        leads / len(a.places),
        led / len(b.places),
        behind / len(a.places),
        before / len(b.places),
        float(min(abs(x - y) for x in a.places for y in b.places)),
        float(len(groups)),
    )
