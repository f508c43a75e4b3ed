"""The certificate that goes with a delivery: what was corrected and what stays in doubt, page by page, as plain text."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

import msgspec

from evenquill.core.edits.corrections import Correction
from evenquill.core.queries import Query, kinds


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


def write_certificate(
    name: str,
    revision: int,
    work: WorkDone,
    people: Mapping[str, int],
    corrections: Sequence[Correction],
    doubts: Sequence[Query],
) -> str:
    """The certificate of a document as it stands at a revision. Word by word, so that it can be checked against the source; ``people``
    are those who changed it, and how often."""
    lines = [
        f"Certificate of correction: {name}",
        f"Written from revision {revision}.",
        *(f"Worked on by {one}: {count} {'change' if count == 1 else 'changes'}." for one, count in people.items()),
        "",
        f"Words read:        {work.words}",
        f"Queries raised:    {work.raised}",
        f"   changed:        {work.changed}",
        f"   kept as read:   {work.kept}",
        f"   left for later: {work.left}",
        f"   still open:     {work.open}",
        f"Characters typed:  {work.typed}, where the whole text has {work.characters}",
    ]
    changed = [one for one in corrections if one.read != one.made]
    kept = [one for one in corrections if one.read == one.made]
    lines += _by_page("Corrected", ((one.page, f"“{one.read}” to “{one.made}”") for one in changed))
    lines += _by_page("Kept as it was read", ((one.page, f"“{one.read}”") for one in kept))
    wording = {kind.name: kind.one for kind in kinds()}
    lines += _by_page("Still in doubt", ((one.page, _in_doubt(one, wording.get(one.kind, one.kind))) for one in doubts))
    return "\n".join(lines) + "\n"


def _in_doubt(query: Query, kind: str) -> str:
    return f"“{query.text}” ({kind})" if query.end else f"{kind}: {query.reason}"


def _by_page(title: str, entries: Iterable[tuple[int, str]]) -> list[str]:
    by_page: dict[int, list[str]] = {}
    for page, text in entries:
        by_page.setdefault(page, []).append(text)
    lines = ["", title, "-" * len(title)]
    if not by_page:
        return [*lines, "Nothing."]
    for page in sorted(by_page):
        lines.append(f"Page {page}:" if page else "The document:")
        lines += [f"   {text}" for text in by_page[page]]
    return lines
