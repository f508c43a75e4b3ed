"""Run-in headings: titles that begin a paragraph, in another look than the text that goes on behind them."""

from __future__ import annotations

from collections import defaultdict

from evenquill.core.model import Marks, Role
from evenquill.core.model.inline import NoteRef, joined, marked, plain
from evenquill.core.rebuild.drafts import AnyDraft, Draft

MOST_WORDS, LONGEST = 10, 70
"""Words and characters of a heading, at most."""

FEWEST_BEHIND = 25
"""Characters of the text that goes on behind it."""

FEWEST, DISTINCT = 2, 0.7
"""Paragraphs that begin so, and share of them whose headings are different: “Note:” again and again is no heading."""

SIGNS = frozenset(".:—–")
"""Signs that end a heading within a paragraph; without one it is emphasis."""

LOOKS = (Marks.BOLD, Marks.ITALIC)


def find_run_in_headings(drafts: list[AnyDraft]) -> None:
    """Marks the beginnings of paragraphs that are headings: all bold, or all slanted, with a sign at the end, and not the only ones."""
    by_look: dict[Marks, list[tuple[Draft, int]]] = defaultdict(list)
    for draft in drafts:
        if isinstance(draft, Draft) and draft.role is Role.PARAGRAPH and draft.content:
            for look in LOOKS:
                count = _leading_runs(draft, look)
                if count:
                    by_look[look].append((draft, count))
                    break
    for found in by_look.values():
        titles = {plain(draft.content[:count]).strip().casefold() for draft, count in found}
        if len(found) >= FEWEST and len(titles) >= DISTINCT * len(found):
            for draft, count in found:
                heads = (marked(run, Marks.RUN_IN) for run in draft.content[:count])
                draft.content = joined((*heads, *draft.content[count:]))


def _leading_runs(draft: Draft, look: Marks) -> int:
    """How many runs at the beginning of a paragraph are its heading in this look, 0 where it has none."""
    count = 0
    while (
        count < len(draft.content)
        and look in draft.content[count].marks
        and not isinstance(draft.content[count], NoteRef)
    ):
        count += 1
    lead = plain(draft.content[:count])
    behind = plain(draft.content[count:])
    elsewhere_plain = not any(look in run.marks for run in draft.content[count:])
    title = lead.strip()
    ends = title[-1:] in SIGNS or behind.lstrip()[:1] in SIGNS - {"."}
    short = 0 < len(title.split()) <= MOST_WORDS and len(title) <= LONGEST
    is_text = title[:1].isalnum() and any(c.isalpha() for c in title) and "\t" not in lead and "\n" not in lead
    return count if short and ends and elsewhere_plain and is_text and len(behind.strip()) >= FEWEST_BEHIND else 0
