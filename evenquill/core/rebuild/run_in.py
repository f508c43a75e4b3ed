"""Run-in headings: titles that begin a paragraph, in another look than the text that goes on behind them."""

from __future__ import annotations

from collections import defaultdict

from evenquill.core.model import Marks, Role
from evenquill.core.model.text import joined
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
        if isinstance(draft, Draft) and draft.role is Role.PARAGRAPH and draft.runs:
            for look in LOOKS:
                count = _leading_runs(draft, look)
                if count:
                    by_look[look].append((draft, count))
                    break
    for found in by_look.values():
        titles = {"".join(run.text for run in draft.runs[:count]).strip().casefold() for draft, count in found}
        if len(found) >= FEWEST and len(titles) >= DISTINCT * len(found):
            for draft, count in found:
                heads = (run.marked(Marks.RUN_IN) for run in draft.runs[:count])
                draft.runs = joined((*heads, *draft.runs[count:]))


def _leading_runs(draft: Draft, look: Marks) -> int:
    """How many runs at the beginning of a paragraph are its heading in this look, 0 where it has none."""
    count = 0
    while count < len(draft.runs) and look in draft.runs[count].marks and draft.runs[count].note is None:
        count += 1
    lead = "".join(run.text for run in draft.runs[:count])
    behind = "".join(run.text for run in draft.runs[count:])
    plain = not any(look in run.marks for run in draft.runs[count:])
    title = lead.strip()
    ends = title[-1:] in SIGNS or behind.lstrip()[:1] in SIGNS - {"."}
    short = 0 < len(title.split()) <= MOST_WORDS and len(title) <= LONGEST
    is_text = title[:1].isalnum() and any(c.isalpha() for c in title) and "\t" not in lead and "\n" not in lead
    return count if short and ends and plain and is_text and len(behind.strip()) >= FEWEST_BEHIND else 0
