"""Whether what is wrong with the structure of a document carries a query."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

from rapidfuzz import fuzz

from evenquill.core.model import Document, Role, TextBlock
from evenquill.core.queries import find_queries

from .labels import letters

KINDS = {
    "continues",
    "level",
    "lone item",
    "unmarked note",
    "running head",
    "order",
    "other kind",
    "two rows",
    "carries on",
}
"""Doubts about structure."""

TYPES = {Role.HEADING: "heading", Role.LIST_ITEM: "list_item"}
"""What the truth calls a row that is no paragraph."""

JUDGED = {Role.PARAGRAPH, Role.HEADING, Role.LIST_ITEM, Role.QUOTE, Role.VERSE, Role.TERM, Role.DEFINITION}

ALIKE = 90
"""How alike (of 100) two texts are that are one, by their letters."""


def doubts_about(document: Document, truth: Sequence[dict]) -> dict[str, float | None]:
    """``asked``: queries about structure for each page. ``caught``: the share (0 to 100) of wrong rows that have one, or are next to a row
    that has; None where no row is wrong."""
    asked = find_queries(document, of_kinds=KINDS)
    doubted = {query.block for query in asked}
    rows = [block for block in document.blocks if isinstance(block, TextBlock) and not block.excluded]
    wrong = [n for n, right in enumerate(_right(rows, truth)) if not right]
    caught = sum(any(row.id in doubted for row in rows[max(n - 1, 0) : n + 2]) for n in wrong)
    return {
        "asked": len(asked) / max(len(document.pages), 1),
        "caught": 100 * caught / len(wrong) if wrong else None,
    }


def _right(rows: Sequence[TextBlock], truth: Sequence[dict]) -> list[bool]:
    """For each row whether the truth has one of its text and kind; kinds that it does not tell apart are not looked at."""
    known: dict[str, list[str]] = defaultdict(list)
    for block in truth:
        if "text" in block:
            known[block["type"]].append(letters(block["text"]))
    out = []
    for row in rows:
        own = letters(row.text)
        if row.role not in JUDGED or not own:
            out.append(True)
            continue
        same = known[TYPES.get(row.role, "paragraph")]
        place = next((n for n, text in enumerate(same) if text == own), None)
        if place is None:
            place = next((n for n, text in enumerate(same) if fuzz.ratio(text, own, score_cutoff=ALIKE)), None)
        if place is not None:
            del same[place]
        out.append(place is not None)
    return out
