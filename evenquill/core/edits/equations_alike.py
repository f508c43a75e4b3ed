"""Letters that stand for a quantity made equations wherever they stand alone: every italic n of a paragraph, or of the document."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from msgspec.structs import replace

from evenquill.core.edits.equation_edits import check_equations
from evenquill.core.edits.inverse import Edit, with_text_changed
from evenquill.core.edits.lookup import any_text
from evenquill.core.edits.operations import MakeEquations
from evenquill.core.edits.words import moved_words
from evenquill.core.errors import EditError
from evenquill.core.model import Document, Equation, Inline, Marks, Role, Text, TextBlock, texts_of
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import joined, plain, spans

LEFT = frozenset({Role.CODE, Role.EQUATION})
"""Kinds of text in which letters are not taken."""


def make_equations(document: Document, operation: MakeEquations, ids: Ids) -> Edit:
    """Raises EditError where the letters stand nowhere alone."""
    check_equations((Equation(operation.tree),))
    alone = re.compile(rf"(?<![\w'’]){re.escape(operation.text)}(?![\w'’])")
    edit = Edit(document, ())
    for text in _texts(document, frozenset(operation.blocks)) if operation.text.strip() else ():
        marked = operation.italic != document.style(text.style).italic
        content, words = text.content, text.words
        # One by one from the end, so that the words between them stay what they were.
        for found in reversed(list(alone.finditer(text.text))):
            made = joined(_with_equation(content, found.start(), operation, marked=marked))
            words = moved_words(words, plain(content), plain(made))
            content = made
        if content != text.content:
            at, _ = any_text(edit.document, text.id)
            edit = edit.then(with_text_changed(edit.document, at, replace(text, content=content, words=words)))
    if edit.document is document:
        raise EditError(f"“{operation.text}” stands nowhere alone in the same look.")
    return edit


def _texts(document: Document, rows: frozenset[str]) -> Iterator[TextBlock]:
    for block in document.blocks:
        if not block.excluded and (not rows or block.id in rows):
            yield from (text for text in texts_of(block) if text.role not in LEFT and not text.excluded)


def _with_equation(
    content: Sequence[Inline], place: int, operation: MakeEquations, *, marked: bool
) -> Iterator[Inline]:
    """The content with an equation in a place that is text with, or without, the mark for italic; links stay as they are."""
    for start, item in spans(content):
        low, high = place - start, place - start + len(operation.text)
        is_text = isinstance(item, Text) and (Marks.ITALIC in item.marks) == marked and item.link is None
        if not is_text or low < 0 or high > len(item.text):
            yield item
            continue
        yield item.like(item.text[:low])
        yield Equation(operation.tree, marks=item.marks & ~Marks.ITALIC, color=item.color)
        yield item.like(item.text[high:])
