"""Quotations and verse: what the models of structure say of paragraphs, and text that stands in evenly from both edges."""

from __future__ import annotations

from collections import Counter

from evenquill.core.model import Align, Role
from evenquill.core.rebuild.drafts import AnyDraft, Draft

ROLES_BY_NAME = {"quotation": Role.QUOTE, "verse": Role.VERSE}

RUNNING_TEXT = frozenset(("text", "item", "meaning", "quotation"))
"""What text that is set in may have been taken for."""

SET_IN = 1.0
"""Ems from the left edge of the column, at least."""

USUAL = 0.5
"""Ems by which the indent of text may miss the usual one."""

EVEN = 0.35
"""Share of the indent at the left by which that at the right may differ from it."""


def find_quotes(drafts: list[AnyDraft]) -> None:
    """Makes quotations, and verse, of the paragraphs that are ones."""
    usual = _usual_indent(drafts)
    for draft in drafts:
        if isinstance(draft, Draft) and draft.role is Role.PARAGRAPH:
            edge = draft.align in (Align.LEFT, Align.JUSTIFY)
            if draft.likely_role in RUNNING_TEXT and edge and not draft.marker and _is_set_in_evenly(draft, usual):
                draft.role = Role.QUOTE
            elif len(draft.lines) > 1 and not (draft.likely_role == "quotation" and _is_usual(draft, usual)):
                draft.role = ROLES_BY_NAME.get(draft.likely_role, draft.role)


def _usual_indent(drafts: list[AnyDraft]) -> float:
    """The indent, to a point, of most lines of running text: what is as far in as the text itself is not set in."""
    lines: Counter[int] = Counter()
    for draft in drafts:
        if isinstance(draft, Draft) and draft.role is Role.PARAGRAPH and draft.likely_role in ("text", "quotation"):
            lines[round(draft.indent)] += len(draft.lines) - 1
    return float(lines.most_common(1)[0][0]) if lines else 0.0


def _is_usual(draft: Draft, usual: float) -> bool:
    """Whether a paragraph stands where most running text does and is upright as that is: nothing but what it says quotes."""
    return abs(draft.indent - usual) < USUAL * draft.lines[0].size and not draft.type.italic


def _is_set_in_evenly(draft: Draft, usual: float) -> bool:
    """Whether a paragraph of several lines stands in from both edges of its column, and further than text usually does."""
    indent, size = draft.indent, draft.lines[0].size
    return (
        len(draft.lines) > 1
        and indent >= max(usual, 0.0) + SET_IN * size
        and abs(draft.inset - indent) <= EVEN * indent
    )
