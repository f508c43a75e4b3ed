"""Where footnotes are called: each is tied to its mark in the text, or to the one sign that its mark can have been misread as."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence

from evenquill.core.layout.notes import MISREAD
from evenquill.core.model import NOTES, Block, Marks, NoteRef, Role, Text, TextBlock, texts_of, with_changed
from evenquill.core.model.cutting import cut_block, with_content
from evenquill.core.model.inline import spans
from evenquill.core.rebuild.drafts import AnyDraft, Draft
from evenquill.core.rebuild.endnotes import with_endnote_marks

BEHIND_MARK = ".,;:"
"""Signs that may follow the mark of a note, and be raised with it."""

_MISREAD = re.compile(rf"(?<=[.,;:!?)»”])[{re.escape(''.join(sorted(MISREAD)))}](?!\S)|(?<=\w)[*°^`´](?!\S)")
"""What a raised figure that is too small to be read is often read as, at the end of a word: any such sign behind a stop, behind a letter
only one that no word ends with."""

ABOVE_ALL = 10_000
"""A number that no note has: that of a note whose mark was not read, which may be called behind any other."""

_DOUBLE, _SINGLE = re.compile('["“”„]'), re.compile(r"(?<!\w)['‘’‚`´]|['‘’‚`´](?!\w)")
"""Quotation marks; a sign within a word is none."""


def with_note_marks(blocks: Sequence[Block], drafts: Sequence[AnyDraft], id_of: Callable[[int], str]) -> list[Block]:
    """Ties each footnote to its mark, the raised word of that text in the nearest block before it, else the number as it stands there, else
    the one sign that its mark can have been misread as; and each endnote to the raised number that comes next. ``id_of`` gives the id of
    the block that the draft at a place has become."""
    out = list(blocks)
    places = {block.id: at for at, block in enumerate(out)}
    of_endnotes: dict[str, int] = {}
    left: list[tuple[int, Draft]] = []
    for n, draft in enumerate(drafts):
        if not isinstance(draft, Draft) or draft.role not in NOTES:
            continue
        at = places[id_of(n)]
        note = out[at]
        assert isinstance(note, TextBlock)
        if draft.role is Role.ENDNOTE:
            of_endnotes[note.id] = draft.note_number
            out[at] = _without_mark(note, draft.note_mark) if draft.note_mark else note
            continue
        # A plain number in a cell is what the table says.
        for place_of_mark, texts_in in ((_raised_mark, texts_of), (_plain_mark, _own_text)) if draft.note_mark else ():
            found = _marked_text(out, at, draft, place_of_mark, texts_in)
            if found is not None:
                marked_at, marked = found
                out[marked_at] = with_changed(out[marked_at], marked)
                out[at] = _without_mark(note, draft.note_mark)
                break
        else:
            left.append((at, draft))
    for at, draft in left:
        if not _tie_to_misread(out, at, draft):
            _tie_to_last(out, at)
    return with_endnote_marks(out, of_endnotes) if of_endnotes else out


def _tie_to_misread(blocks: list[Block], at: int, draft: Draft) -> bool:
    """Ties a footnote to the one sign between the marks of the notes before and behind it that its mark can have been misread as, if
    there is one: a query asks whether it belongs there."""
    found: list[tuple[int, int, int]] = []
    for k in range(at - 1, -1, -1):
        block = blocks[k]
        if not isinstance(block, TextBlock) or block.role in NOTES:
            continue
        if block.spots and block.spots[-1].page < draft.page:
            break
        known = [
            (start, int(item.mark))
            for start, item in spans(block.content)
            if isinstance(item, NoteRef) and item.mark.isdigit()
        ]
        number = int(draft.note_mark) if draft.note_mark.isdigit() else ABOVE_ALL
        after = max((start for start, other in known if other < number), default=-1)
        before = min((start for start, other in known if other > number), default=len(block.text))
        if after >= 0 and before < len(block.text) and before < after:
            return False
        found = [] if before < len(block.text) else found
        found += [
            (k, *match.span())
            for match in _MISREAD.finditer(block.text)
            if after < match.start() < before and not _closes(block.text, match.start())
        ]
        if after >= 0:
            break
    if len(found) != 1:
        return False
    k, start, end = found[0]
    block = blocks[k]
    assert isinstance(block, TextBlock)
    blocks[k] = with_content(block, start, end, (NoteRef(blocks[at].id),))
    note = blocks[at]
    assert isinstance(note, TextBlock)
    misread = note.text[:1] if note.text[:1] in MISREAD else ""
    blocks[at] = _without_mark(note, draft.note_mark or misread)
    return True


def _closes(text: str, at: int) -> bool:
    """Whether the sign at a place closes a quotation that has been opened before it."""
    return any(kind.match(text, at) and len(kind.findall(text[:at])) % 2 == 1 for kind in (_DOUBLE, _SINGLE))


def _tie_to_last(blocks: list[Block], at: int) -> None:
    """Ties a footnote that nothing in the text is known to call to the end of the last paragraph before it on its page, without a mark: a
    query asks where it belongs."""
    page = blocks[at].spots[0].page if blocks[at].spots else 0
    for k in range(at - 1, -1, -1):
        block = blocks[k]
        if not block.spots or block.spots[-1].page != page:
            return
        if isinstance(block, TextBlock) and block.role in (Role.PARAGRAPH, Role.LIST_ITEM, Role.QUOTE):
            blocks[k] = with_content(block, len(block.text), len(block.text), (NoteRef(blocks[at].id),))
            return


def _own_text(block: Block) -> tuple[TextBlock, ...]:
    return (block,) if isinstance(block, TextBlock) else ()


def _marked_text(
    blocks: list[Block],
    at: int,
    draft: Draft,
    place_of_mark: Callable[[TextBlock, str], tuple[int, int] | None],
    texts_in: Callable[[Block], tuple[TextBlock, ...]],
) -> tuple[int, TextBlock] | None:
    """The nearest text before a note that has its mark, with the note tied to it, and the place of its block."""
    for k in range(at - 1, -1, -1):
        block = blocks[k]
        if isinstance(block, TextBlock) and block.role in NOTES:
            continue
        for text in reversed(texts_in(block)):
            place = place_of_mark(text, draft.note_mark)
            if place is not None:
                return k, with_content(text, *place, (NoteRef(blocks[at].id, draft.note_mark),))
        if texts_in(block) and block.spots and block.spots[-1].page < draft.page:
            break
    return None


def _raised_mark(text: TextBlock, mark: str) -> tuple[int, int] | None:
    """The characters of a text that are a raised mark."""
    for start, item in spans(text.content):
        if not isinstance(item, Text) or not item.marks & Marks.SUPER:
            continue
        end = start + len(item.text)
        own = item.text.strip()
        if own == mark:
            return start, end
        if own.rstrip(BEHIND_MARK) == mark and item.text.startswith(mark):
            return start, start + len(mark)
        # Fonts without all superior figures set the first ones of a number on the line.
        rest = mark.removesuffix(own)
        if own and rest and rest != mark and text.text[:start].endswith(rest):
            before = text.text[: start - len(rest)]
            if not before[-1:].isdigit():
                return start - len(rest), end
    return None


def _plain_mark(text: TextBlock, mark: str) -> tuple[int, int] | None:
    """The characters of a mark that is not raised: the last word that is that number, or the last such sign; a text begins with none."""
    if not mark.isalnum():
        place = text.text.rfind(mark)
        return (place, place + len(mark)) if place > 0 else None
    if not mark.isdigit():
        return None
    found = [match for match in re.finditer(rf"(?<![\w.,:-]){mark}(?![\w]|[.,:-]\w)", text.text) if match.start()]
    return found[-1].span() if found else None


def _without_mark(note: TextBlock, mark: str) -> TextBlock:
    """The note without the mark that it begins with; the word spots move with the text."""
    text = note.text
    length = len(mark)
    while length < len(text) and text[length] in ".) \t":
        length += 1
    return cut_block(note, length)
