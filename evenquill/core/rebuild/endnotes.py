"""Endnotes: numbered paragraphs behind the text, at its end or a chapter's, whose numbers stand raised in it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from evenquill.core.model import NOTES, Block, Inline, Marks, NoteRef, NumberFormat, Role, Text, TextBlock
from evenquill.core.model.cutting import with_content
from evenquill.core.model.inline import spans
from evenquill.core.model.text import letters_of
from evenquill.core.rebuild.drafts import AnyDraft, Draft

FEWEST = 2
"""Notes one after the other."""

TITLES = frozenset({
    "notes", "endnotes", "anmerkungen", "endnoten", "fußnoten", "notesdefin", "notas", "notasfinales", "note", "notefinali", "notasfinais",
    "noten", "eindnoten", "noter", "slutnoter", "sluttnoter", "viitteet", "loppuviitteet", "przypisy", "poznámky",
})  # fmt: skip
"""What stands over endnotes, letters alone."""

TIED = 0.8
"""Share of the notes whose numbers must stand raised in the text before, in their order."""


class Mark(NamedTuple):
    """A raised number in the text: place of the paragraph, and of the run in it."""

    at: int
    run: int
    number: int


class Entry(NamedTuple):
    """A numbered paragraph and its number."""

    at: int
    number: int


def find_endnotes(drafts: Sequence[AnyDraft]) -> None:
    """Makes endnotes of numbered paragraphs that follow the text in which their numbers stand raised.

    A title says so, or they are the last thing of a document that has no footnotes.
    """
    marks = list(_marks(drafts))
    has_footnotes = any(isinstance(draft, Draft) and draft.role is Role.NOTE for draft in drafts)
    for entries in _runs_of_entries(drafts):
        title = drafts[entries[0].at - 1] if entries[0].at else None
        titled = isinstance(title, Draft) and letters_of(title.text) in TITLES
        if not titled and (has_footnotes or entries[-1].at < len(drafts) - 1):
            continue
        tied = _tied(entries, [mark for mark in marks if mark.at < entries[0].at])
        if len(tied) < max(FEWEST, TIED * len(entries)):
            continue
        marks = marks[marks.index(tied[-1][1]) + 1 :]
        for entry in entries:
            draft = drafts[entry.at]
            assert isinstance(draft, Draft)
            draft.note_mark = "" if draft.role is Role.LIST_ITEM else str(entry.number)
            draft.role, draft.numbering, draft.level = Role.ENDNOTE, None, 0
            draft.note_number = entry.number


def with_endnote_marks(blocks: Sequence[Block], numbers: dict[str, int]) -> list[Block]:
    """The blocks with the marks of endnotes tied to them; ``numbers`` are those of the notes by block id."""
    out = list(blocks)
    entries = [Entry(at, numbers[block.id]) for at, block in enumerate(out) if block.id in numbers]
    for entry, mark in _tied(entries, list(_marks(out))):
        block = out[mark.at]
        assert isinstance(block, TextBlock)
        printed = block.content[mark.run].text
        start = next(at for n, (at, _) in enumerate(spans(block.content)) if n == mark.run)
        reference = NoteRef(out[entry.at].id, printed.strip())
        out[mark.at] = with_content(block, start, start + len(printed), (reference,))
    return out


def _marks(paragraphs: Sequence[AnyDraft | Block]) -> Iterator[Mark]:
    """The raised numbers of the text that lead to no note yet."""
    for at, paragraph in enumerate(paragraphs):
        if isinstance(paragraph, (Draft, TextBlock)) and paragraph.role not in NOTES:
            for n, run in enumerate(paragraph.content):
                text = run.text.strip()
                if (
                    run.marks & Marks.SUPER
                    and isinstance(run, Text)
                    and text.isdecimal()
                    and _follows_a_word(paragraph.content, n)
                ):
                    yield Mark(at, n, int(text))


def _follows_a_word(runs: Sequence[Inline], n: int) -> bool:
    return n > 0 and not runs[n - 1].text[-1:].isdigit()


def _runs_of_entries(drafts: Sequence[AnyDraft]) -> Iterator[list[Entry]]:
    """Numbered paragraphs one after the other, their numbers rising by one."""
    run: list[Entry] = []
    for at, draft in enumerate(drafts):
        entry = _entry(draft, at, run[-1].number if run else 0) if isinstance(draft, Draft) else None
        if entry is not None and (not run or entry.number == run[-1].number + 1):
            run.append(entry)
            continue
        if len(run) >= FEWEST:
            yield run
        run = [entry] if entry is not None else []
    if len(run) >= FEWEST:
        yield run


def _entry(draft: Draft, at: int, before: int) -> Entry | None:
    numbering = draft.numbering
    if draft.role is Role.LIST_ITEM and numbering is not None and numbering.format is NumberFormat.DECIMAL:
        if draft.level:
            return None
        return Entry(at, numbering.start if numbering.start is not None else before + 1)
    if draft.role is Role.PARAGRAPH and draft.content:
        first = draft.content[0]
        if first.marks & Marks.SUPER and first.text.strip().isdecimal():
            return Entry(at, int(first.text))
    return None


def _tied(entries: Sequence[Entry], marks: Sequence[Mark]) -> list[tuple[Entry, Mark]]:
    """Each entry with the next mark of its number; marks stand in the order of their notes."""
    tied: list[tuple[Entry, Mark]] = []
    at = 0
    for entry in entries:
        found = next((n for n in range(at, len(marks)) if marks[n].number == entry.number), None)
        if found is not None:
            tied.append((entry, marks[found]))
            at = found + 1
    return tied
