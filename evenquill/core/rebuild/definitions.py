"""Definition lists: terms in lines of their own with what they mean set in below, or terms in bold that begin a hanging paragraph."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence

from evenquill.core.layout.flow import FlowLine
from evenquill.core.model import Align, Role
from evenquill.core.rebuild.drafts import AnyDraft, Draft
from evenquill.core.rebuild.levels import LARGER

SET_IN = 1.0
"""Ems by which a definition stands further in than its term, or its first line further out than the others, at least."""

FEWEST = 2
"""Definitions one after the other that make a list."""

LONGEST_TERM = 0.75
"""Share of the column's width that a term fills, at most."""

MOSTLY = 0.7
"""Share of the text's lines that are set in where that is how the text is set."""

SAME_EDGE = 2.0
"""Points by which terms of one list may begin elsewhere."""


def find_definitions(drafts: list[AnyDraft], text_size: float) -> None:
    """Makes terms and definitions of the paragraphs that are ones; where most of the text is set in, it is that of headings that stand
    out."""
    if not _is_mostly_set_in(drafts):
        _find_terms(drafts, text_size)
    _find_hanging(drafts)


def _find_terms(drafts: Sequence[AnyDraft], text_size: float) -> None:
    i = 0
    while i < len(drafts):
        pairs = _pairs_from(drafts, i, text_size)
        if len(pairs) >= FEWEST and any(_is_wrapped(draft) for _, below in pairs for draft in below):
            for term, below in pairs:
                term.role = Role.TERM
                for draft in below:
                    draft.role = Role.DEFINITION
        # What begins within a run that is none is none either.
        i += max(sum(1 + len(below) for _, below in pairs), 1)


def _find_hanging(drafts: Sequence[AnyDraft]) -> None:
    i = 0
    while i < len(drafts):
        run = _hanging_from(drafts, i)
        if len(run) >= FEWEST and any(_is_wrapped(draft) for draft in run):
            for draft in run:
                draft.role = Role.DEFINITION
        i += max(len(run), 1)


def _is_mostly_set_in(drafts: Sequence[AnyDraft]) -> bool:
    lines: Counter[bool] = Counter()
    for draft in drafts:
        if isinstance(draft, Draft) and _is_plain(draft) and _is_wrapped(draft):
            lines[draft.indent > SET_IN * draft.lines[0].size] += len(draft.lines)
    return lines[True] > MOSTLY * lines.total()


def _pairs_from(drafts: Sequence[AnyDraft], start: int, text_size: float) -> list[tuple[Draft, list[Draft]]]:
    """Terms at one edge from a place on, each with the paragraphs that stand in below it."""
    pairs: list[tuple[Draft, list[Draft]]] = []
    i = start
    while i < len(drafts):
        term = drafts[i]
        if not isinstance(term, Draft) or not _may_be_term(term, text_size):
            break
        if pairs and abs(term.lines[0].x0 - pairs[0][0].lines[0].x0) > SAME_EDGE:
            break
        below: list[Draft] = []
        for draft in _from(drafts, i + 1):
            if not isinstance(draft, Draft) or not _stands_in(draft, term):
                break
            below.append(draft)
        if not below:
            break
        pairs.append((term, below))
        i += 1 + len(below)
    return pairs


def _may_be_term(draft: Draft, text_size: float) -> bool:
    line = draft.lines[0]
    return (
        _is_plain(draft)
        and line.size < LARGER * text_size
        and not line.text[0].isdigit()
        and len(draft.lines) == 1
        and line.x1 - line.x0 < LONGEST_TERM * (draft.right - draft.left)
        and line.text[-1] not in ".,;!?"
    )


def _stands_in(draft: Draft, term: Draft) -> bool:
    """Whether all of a paragraph stands in from its term, on the same page or at the top of the next."""
    return _is_plain(draft) and draft.indent > term.indent + SET_IN * term.lines[0].size


def _hanging_from(drafts: Sequence[AnyDraft], start: int) -> list[Draft]:
    """Paragraphs at one edge from a place on that begin with a bold term; those that have a second line hang."""
    found: list[Draft] = []
    for draft in _from(drafts, start):
        if not isinstance(draft, Draft) or not _is_plain(draft) or not _begins_bold(draft.lines[0]):
            break
        if found and abs(draft.lines[0].x0 - found[0].lines[0].x0) > SAME_EDGE:
            break
        if _is_wrapped(draft) and draft.lines[1].x0 - draft.lines[0].x0 < SET_IN * draft.lines[0].size:
            break
        found.append(draft)
    return found


def _from(drafts: Sequence[AnyDraft], start: int) -> Iterator[AnyDraft]:
    """The drafts from a place on, without a copy of all that follow."""
    return (drafts[n] for n in range(start, len(drafts)))


def _is_plain(draft: Draft) -> bool:
    return (
        draft.role is Role.PARAGRAPH
        and not draft.marker
        and not draft.breaks
        and draft.align in (Align.LEFT, Align.JUSTIFY)
        and not any(line.tabbed for line in draft.lines)
    )


def _is_wrapped(draft: Draft) -> bool:
    """Whether a paragraph has a second line on its page."""
    return len(draft.lines) > 1 and draft.lines[1].page == draft.lines[0].page


def _begins_bold(line: FlowLine) -> bool:
    """Whether a line begins bold and does not stay so."""
    return line.words[0].type.bold and not line.words[-1].type.bold
