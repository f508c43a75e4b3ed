"""Single lines that begin where first lines of paragraphs do: set in as these are, and in the middle by chance."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence

from evenquill.core.model import Align, Role
from evenquill.core.rebuild.drafts import AnyDraft, Draft

SAME = 1.0
"""Points between two first lines that are set in alike."""

LEAST = 0.8
"""Type sizes that a first line is set in by, at least."""

FEWEST, SHARE = 2, 0.5
"""Paragraphs of several lines that are set in alike, and their share of all of these, from which that is how the document begins them."""


def align_first_lines(drafts: Sequence[AnyDraft]) -> None:
    """Takes single lines of text, in place, for first lines of paragraphs where they stand just there."""
    texts = [draft for draft in drafts if isinstance(draft, Draft) and draft.role is Role.PARAGRAPH]
    usual = _usual_indent([_first_indent(draft) for draft in texts if len(draft.lines) > 1])
    if usual is None:
        return
    for draft in texts:
        if draft.align is Align.CENTER and len(draft.lines) == 1 and abs(draft.indent - usual) < SAME:
            draft.align = Align.LEFT


def _first_indent(draft: Draft) -> float:
    """Points by which the first line of a paragraph is set in, 0 where that is too little, or the others are set in too."""
    rest = min(line.x0 for line in draft.lines[1:]) - draft.left
    size = draft.lines[0].size
    first = draft.lines[0].x0 - draft.left
    return first if rest < LEAST * size < first else 0.0


def _usual_indent(indents: Sequence[float]) -> float | None:
    """The indent that most paragraphs begin with, None where there is none."""
    values = sorted(one for one in indents if one)
    alike = [(bisect_right(values, one - SAME), bisect_left(values, one + SAME)) for one in values]
    start, end = max(alike, key=lambda span: span[1] - span[0], default=(0, 0))
    if end - start < max(FEWEST, SHARE * len(indents)):
        return None
    return sum(values[start:end]) / (end - start)
