"""What the history corrected, word by word: for the certificate."""

from __future__ import annotations

import difflib
from collections.abc import Iterable, Iterator
from typing import NamedTuple

from evenquill.core.edits.inverse import Restore, RestoreText, Undoing
from evenquill.core.edits.operations import EditText, Operation, SettleWords, WordAnswer
from evenquill.core.model import TextBlock, texts_of
from evenquill.core.model.inline import readable


class Correction(NamedTuple):
    """On a page (0 where that is not known) ``read`` was made ``made``; the same where it was kept."""

    page: int
    read: str
    made: str


def corrections_of(operation: Operation, inverse: tuple[Undoing, ...]) -> Iterator[Correction]:
    """The words that an operation changed or kept; ``inverse`` has the rows as they were."""
    before = {text.id: text for step in inverse for text in _texts_before(step)}
    if isinstance(operation, SettleWords):
        for answer in operation.answers:
            yield Correction(_page_of(answer, before.get(answer.block)), answer.read, answer.text)
    elif isinstance(operation, EditText) and operation.block in before:
        yield from _retyped(before[operation.block], readable(operation.content))


def _texts_before(step: Undoing) -> Iterable[TextBlock]:
    if isinstance(step, RestoreText):
        return (step.text,)
    return (text for block in step.blocks for text in texts_of(block)) if isinstance(step, Restore) else ()


def _page_of(answer: WordAnswer, row: TextBlock | None) -> int:
    if answer.key is not None:
        return answer.key.page
    if answer.spot is not None:
        return answer.spot.page
    pages = [word.page for word in row.words if word.start <= answer.start < word.end] if row else []
    return pages[0] if pages else 0


def _retyped(row: TextBlock, text: str) -> Iterator[Correction]:
    """Words of a row that were typed anew."""
    old, new = row.readable.split(), text.split()
    page = row.spots[0].page if row.spots else 0
    for kind, a0, a1, b0, b1 in difflib.SequenceMatcher(None, old, new, autojunk=False).get_opcodes():
        if kind != "equal":
            yield Correction(page, " ".join(old[a0:a1]), " ".join(new[b0:b1]))
