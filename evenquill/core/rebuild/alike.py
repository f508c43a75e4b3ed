"""Headings told by what looks alike: short paragraphs of one look, at one edge, are headings together or not at all.

Of a single line the models of structure may be unsure; several lines that are set alike, each followed by text, say together what they
are. A model weighs what the lines say by themselves, how they are set and what stands around them.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Hashable, Iterable, Sequence
from typing import NamedTuple

import numpy as np

from evenquill.core.evidence import Type
from evenquill.core.fitted.trees import trees_of
from evenquill.core.model import Align, Role
from evenquill.core.model.text import letters_and_digits_of
from evenquill.core.rebuild.drafts import AnyDraft, Draft
from evenquill.core.rebuild.levels import depth_of, look_of
from evenquill.core.rebuild.structure.roles import ROLES

MOST_LINES, LONGEST = 2, 110
"""Lines and characters of a paragraph that may be a heading for its look."""

FEWEST = 2
"""Paragraphs that are set alike from which they tell more together than each by itself."""

SIZE_STEPS = 20
"""Steps between the size of the text and twice as much within which sizes are the same."""

LIKELY = 0.5
"""Probability from which paragraphs that are set alike are headings."""

LEAST = 1e-3
"""Probabilities are taken to be no nearer than this to 0 and 1."""

ALIKE_FEATURES = (
    "count", "mean_odds", "best_odds", "worst_odds", "said", "size", "bold", "italic", "capitals", "small_capitals", "as_text",
    "centred", "indent", "numbered", "gap", "widest_gap", "length", "lines", "ends_sentence", "ends_colon", "ends_comma", "before_text",
    "before_item", "before_alike", "last", "page_top", "pages", "share", *(f"mean_{role}" for role in ROLES),
)  # fmt: skip


class Alike(NamedTuple):
    """Paragraphs that are set alike, by their places among the drafts."""

    places: tuple[int, ...]
    drafts: tuple[Draft, ...]


def find_headings_alike(drafts: Sequence[AnyDraft], text: Type) -> None:
    """Makes likely headings of paragraphs that are set alike where the model takes them for such; ``text`` is the look of running text."""
    groups = alike_groups(drafts, text)
    if not groups:
        return
    measures = np.array([alike_features(group, drafts, text) for group in groups], np.float32)
    chances = np.exp(trees_of("alikes").log_probabilities(measures)[:, 1])
    for group, chance in zip(groups, chances, strict=True):
        if chance >= LIKELY:
            for draft in group.drafts:
                draft.likely_role, draft.of_roles = "heading", ()


def alike_groups(drafts: Sequence[AnyDraft], text: Type) -> list[Alike]:
    """The groups of short paragraphs that are set alike, and not as the text is, numbers aside."""
    found: dict[Hashable, list[int]] = defaultdict(list)
    for n, draft in enumerate(drafts):
        if isinstance(draft, Draft) and _may_be_heading(draft):
            look = look_of(draft)
            size = round(SIZE_STEPS * look.size / text.size)
            depth = depth_of(draft.text)
            if (size, *look[1:3]) != (SIZE_STEPS, text.bold, text.italic) or any(look[3:]) or depth:
                edge = draft.align if draft.align is not Align.LEFT else round(draft.indent / text.size)
                found[size, look[1:], depth, edge].append(n)
    return [
        Alike(tuple(places), tuple(draft for n in places if isinstance(draft := drafts[n], Draft)))
        for places in found.values()
        if len(places) >= FEWEST
    ]


def _may_be_heading(draft: Draft) -> bool:
    return (
        draft.role is Role.PARAGRAPH
        and len(draft.lines) <= MOST_LINES
        and bool(draft.of_roles)
        and len(draft.text) <= LONGEST
        and not any(line.tabbed for line in draft.lines)
        and bool(letters_and_digits_of(draft.text))
    )


def alike_features(group: Alike, drafts: Sequence[AnyDraft], text: Type) -> tuple[float, ...]:
    """The measures of a group (ALIKE_FEATURES)."""
    own = group.drafts
    heading = ROLES.index("heading")
    chances = [min(max(draft.of_roles[heading], LEAST), 1 - LEAST) for draft in own]
    odds = [math.log(chance / (1 - chance)) for chance in chances]
    look = look_of(own[0])
    after = [drafts[n + 1] if n + 1 < len(drafts) else None for n in group.places]
    inside = set(group.places)
    return (
        math.log(len(own)),
        _mean(odds),
        max(odds),
        min(odds),
        _mean(draft.likely_role == "heading" for draft in own),
        math.log(max(look.size, 1.0) / max(text.size, 1.0)),
        float(look.bold),
        float(look.italic),
        float(look.capitals),
        float(look.small_capitals),
        float(look.bold == text.bold and not any(look[2:])),
        _mean(draft.align is Align.CENTER for draft in own),
        _mean(draft.indent for draft in own) / max(text.size, 1.0),
        float(depth_of(own[0].text)),
        _mean(draft.gap for draft in own) / max(text.size, 1.0),
        max(draft.gap for draft in own) / max(text.size, 1.0),
        _mean(len(draft.text) for draft in own),
        _mean(len(draft.lines) for draft in own),
        _mean(draft.text.endswith((".", "!", "?")) for draft in own),
        _mean(draft.text.endswith(":") for draft in own),
        _mean(draft.text.endswith(",") for draft in own),
        _mean(isinstance(one, Draft) and one.likely_role == "text" for one in after),
        _mean(isinstance(one, Draft) and one.role is Role.LIST_ITEM for one in after),
        _mean(n + 1 in inside for n in group.places),
        _mean(one is None for one in after),
        _mean(draft.page_top for draft in own),
        len({draft.page for draft in own}) / len(own),
        len(own) / len(drafts),
        *(_mean(draft.of_roles[n] for draft in own) for n in range(len(ROLES))),
    )


def _mean(values: Iterable[float]) -> float:
    own = list(values)
    return sum(own) / max(len(own), 1)
