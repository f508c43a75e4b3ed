"""What a step of the history cost the clerk: characters typed by hand."""

from __future__ import annotations

from evenquill.core.edits.operations import (
    DescribePicture,
    EditText,
    InsertParagraph,
    Operation,
    ReplaceText,
    SettleWords,
)
from evenquill.core.edits.words import changed_range
from evenquill.core.model import Document, texts_of
from evenquill.core.model.inline import plain


def typed_characters(before: Document, operation: Operation) -> int:
    """Characters that the operation has put into ``before`` and that somebody typed."""
    match operation:
        case SettleWords(answers):
            return sum(len(answer.text) for answer in answers if answer.typed)
        case DescribePicture(_, alt):
            return len(alt)
        case InsertParagraph(text=text) | ReplaceText(text=text):
            return len(text)
        case EditText(block, content):
            try:
                row = before.blocks[before.index(block)]
            except KeyError:
                return 0
            found = next((one for one in texts_of(row) if one.id == block), None)
            if found is None:
                return 0
            start, _, end = changed_range(found.text, plain(content))
            return end - start
    return 0
