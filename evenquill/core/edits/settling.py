"""Operations that settle doubts: answers for words, and doubts that are none."""

from __future__ import annotations

import re

from evenquill.core.edits.inverse import Edit, settle, with_text_changed
from evenquill.core.edits.lookup import any_text
from evenquill.core.edits.operations import KeepAsItIs, SettleWords, WordAnswer
from evenquill.core.edits.words import core_of, with_text
from evenquill.core.errors import EditError
from evenquill.core.model import Document, Spot, TextBlock
from evenquill.core.model.ids import Ids


def settle_words(document: Document, operation: SettleWords, ids: Ids) -> Edit:
    by_text: dict[str, list[WordAnswer]] = {}
    for answer in operation.answers:
        by_text.setdefault(answer.block, []).append(answer)
    if not by_text:
        raise EditError("There is nothing to settle.")
    edit = Edit(document, ())
    for at, before in sorted((any_text(document, block) for block in by_text), key=lambda one: one[0]):
        places = [(place_of_word(before, answer), answer) for answer in by_text[before.id]]
        text = before
        for start, answer in sorted(places, key=lambda one: -one[0]):
            if answer.text != answer.read:
                text = with_text(text, start, start + len(answer.read), answer.text)
        if text is not before:
            edit = edit.then(with_text_changed(edit.document, at, text))
    kept = tuple(answer.key for answer in operation.answers if answer.text == answer.read and answer.key)
    listed = [core_of(answer.text) for answer in operation.answers if answer.text == answer.read or answer.typed]
    return edit.then(settle(edit.document, kept, tuple(word for word in listed if word.isalpha())))


def place_of_word(block: TextBlock, answer: WordAnswer) -> int:
    """Where the word that an answer is for begins in a text, whatever was changed before it. Raises EditError where it is gone."""
    if not answer.read:
        raise EditError("That word is no longer there.")
    starts = [match.start() for match in re.finditer(re.escape(answer.read), block.text)]
    if answer.spot is not None:
        at_spot = [word.start for word in block.words if _stands_at(answer.spot, Spot(word.page, word.box))]
        if at_spot:
            # The word on the source is still there: either it reads as it did, or it was answered meanwhile.
            starts = [start for start in starts if start in at_spot]
    if not starts:
        raise EditError("That word is no longer there.")
    return min(starts, key=lambda start: abs(start - answer.start))


def _stands_at(spot: Spot, other: Spot) -> bool:
    """Whether two spots are one, but for rounding on the way to the browser and back."""
    return spot.page == other.page and all(abs(a - b) < 0.05 for a, b in zip(spot.box, other.box, strict=True))


def keep(document: Document, operation: KeepAsItIs, ids: Ids) -> Edit:
    return settle(document, operation.doubts, ())
