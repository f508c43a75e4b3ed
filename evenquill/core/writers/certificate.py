"""The certificate that goes with a delivery: what was corrected and what stays in doubt, page by page; and as plain text."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from enum import StrEnum
from typing import NamedTuple

import msgspec

from evenquill.core.edits.corrections import Correction
from evenquill.core.queries import Query, kinds

IN, VALUES_AT = "   ", 19
"""What details are set in by, and the character at which values begin."""


class WorkDone(msgspec.Struct, frozen=True):
    """Words and characters of the document, queries raised and how they were settled, characters typed by hand."""

    words: int
    characters: int
    raised: int
    changed: int
    kept: int
    left: int
    open: int
    typed: int


class EntryKind(StrEnum):
    """What an entry of a certificate is; a detail stands a little further in, beneath what it is a detail of."""

    TITLE = "title"
    HEADING = "heading"
    LINE = "line"
    DETAIL = "detail"


class Entry(NamedTuple):
    """One line of a certificate; ``value`` stands beside what it is the value of."""

    kind: EntryKind
    text: str
    value: str = ""


def certificate_entries(
    name: str,
    revision: int,
    work: WorkDone,
    people: Mapping[str, int],
    corrections: Sequence[Correction],
    doubts: Sequence[Query],
) -> list[Entry]:
    """The certificate of a document as it stands at a revision. Word by word, so that it can be checked against the source; ``people``
    are those who changed it, and how often."""
    entries = [
        Entry(EntryKind.TITLE, f"Certificate of correction: {name}"),
        Entry(EntryKind.LINE, f"Written from revision {revision}."),
        *(
            Entry(EntryKind.LINE, f"Worked on by {one}: {count} {'change' if count == 1 else 'changes'}.")
            for one, count in people.items()
        ),
        Entry(EntryKind.LINE, ""),
        Entry(EntryKind.LINE, "Words read:", str(work.words)),
        Entry(EntryKind.LINE, "Queries raised:", str(work.raised)),
        Entry(EntryKind.DETAIL, "changed:", str(work.changed)),
        Entry(EntryKind.DETAIL, "kept as read:", str(work.kept)),
        Entry(EntryKind.DETAIL, "left for later:", str(work.left)),
        Entry(EntryKind.DETAIL, "still open:", str(work.open)),
        Entry(EntryKind.LINE, "Characters typed:", f"{work.typed}, where the whole text has {work.characters}"),
    ]
    changed = [one for one in corrections if one.read != one.made]
    kept = [one for one in corrections if one.read == one.made]
    entries += _by_page("Corrected", ((one.page, f"“{one.read}” to “{one.made}”") for one in changed))
    entries += _by_page("Kept as it was read", ((one.page, f"“{one.read}”") for one in kept))
    wording = {kind.name: kind.one for kind in kinds()}
    entries += _by_page(
        "Still in doubt", ((one.page, _in_doubt(one, wording.get(one.kind, one.kind))) for one in doubts)
    )
    return entries


def certificate_text(entries: Iterable[Entry]) -> str:
    """A certificate as plain text: headings underlined, values beneath each other."""
    lines = []
    for entry in entries:
        text = f"{IN}{entry.text}" if entry.kind is EntryKind.DETAIL else entry.text
        if entry.kind is EntryKind.HEADING:
            lines += ["", text, "-" * len(text)]
        else:
            lines.append(f"{text:<{VALUES_AT}}{entry.value}" if entry.value else text)
    return "\n".join(lines) + "\n"


def _in_doubt(query: Query, kind: str) -> str:
    return f"“{query.text}” ({kind})" if query.end else f"{kind}: {query.reason}"


def _by_page(title: str, found: Iterable[tuple[int, str]]) -> list[Entry]:
    by_page: dict[int, list[str]] = {}
    for page, text in found:
        by_page.setdefault(page, []).append(text)
    entries = [Entry(EntryKind.HEADING, title)]
    if not by_page:
        return [*entries, Entry(EntryKind.LINE, "Nothing.")]
    for page in sorted(by_page):
        entries.append(Entry(EntryKind.LINE, f"Page {page}:" if page else "The document:"))
        entries += [Entry(EntryKind.DETAIL, text) for text in by_page[page]]
    return entries
