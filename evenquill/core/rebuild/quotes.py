"""Quotations and verse: what the models of structure say of paragraphs, and text that stands in evenly from both edges."""

from __future__ import annotations

from collections import Counter, defaultdict

from evenquill.core.model import Align, Role
from evenquill.core.rebuild.drafts import AnyDraft, Draft

ROLES_BY_NAME = {"quotation": Role.QUOTE, "verse": Role.VERSE}

RUNNING_TEXT = frozenset(("text", "item", "meaning", "quotation"))
"""What text that is set in may have been taken for."""

SET_IN = 1.0
"""Ems from the left edge of the column, at least."""

USUAL, SHARE = 0.5, 0.15
"""Ems by which the indent of text may miss the usual one, and share of a page's lines of running text that have one that is usual."""

EVEN = 0.35
"""Share of the indent at the left by which that at the right may differ from it."""


def find_quotes(drafts: list[AnyDraft]) -> None:
    """Makes quotations, and verse, of the paragraphs that are ones."""
    indents = _usual_indents(drafts)
    for draft in drafts:
        if isinstance(draft, Draft) and draft.role is Role.PARAGRAPH:
            usual = indents.get(draft.page, 0.0)
            edge = draft.align in (Align.LEFT, Align.JUSTIFY)
            if draft.likely_role in RUNNING_TEXT and edge and not draft.marker and _is_set_in_evenly(draft, usual):
                draft.role = Role.QUOTE
            elif len(draft.lines) > 1 and not (draft.likely_role == "quotation" and _is_usual(draft, usual)):
                draft.role = ROLES_BY_NAME.get(draft.likely_role, draft.role)


def _usual_indents(drafts: list[AnyDraft]) -> dict[int, float]:
    """By page the outermost indent, to a point, that a share of its running text has: what is no further in is not set in."""
    lines: dict[int, Counter[int]] = defaultdict(Counter)
    for draft in drafts:
        if isinstance(draft, Draft) and draft.role is Role.PARAGRAPH and draft.likely_role in ("text", "quotation"):
            lines[draft.page][round(draft.indent)] += len(draft.lines)
    return {
        page: float(
            min(
                (indent for indent, count in own.items() if count >= SHARE * own.total()),
                default=own.most_common(1)[0][0],
            )
        )
        for page, own in lines.items()
    }


def _is_usual(draft: Draft, usual: float) -> bool:
    """Whether a paragraph stands where running text usually does and is upright as that is: nothing but what it says quotes."""
    return abs(draft.indent - usual) < USUAL * draft.lines[0].size and not draft.type.italic


def _is_set_in_evenly(draft: Draft, usual: float) -> bool:
    """Whether a paragraph of several lines stands in from both edges of its column, and further than text usually does."""
    indent, size = draft.indent, draft.lines[0].size
    return (
        len(draft.lines) > 1
        and indent >= max(usual, 0.0) + SET_IN * size
        and abs(draft.inset - indent) <= EVEN * indent
    )
