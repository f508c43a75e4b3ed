"""Letters that stand for a quantity made equations wherever they stand alone: every italic n of a paragraph, or of the document."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from evenquill.core.edits.equation_edits import check_equations
from evenquill.core.edits.inverse import Edit
from evenquill.core.edits.operations import EditText, MakeEquations
from evenquill.core.edits.text_edits import edit_text
from evenquill.core.errors import EditError
from evenquill.core.model import Document, Equation, Inline, Marks, Role, Text, TextBlock, texts_of
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import joined, spans

LEFT = frozenset({Role.CODE, Role.EQUATION})
"""Kinds of text in which letters are not taken."""


def make_equations(document: Document, operation: MakeEquations, ids: Ids) -> Edit:
    """Raises EditError where the letters stand nowhere alone."""
    check_equations((Equation(operation.tree),))
    alone = re.compile(rf"(?<![\w'’]){re.escape(operation.text)}(?![\w'’])")
    edit = Edit(document, ())
    for text in _texts(document, frozenset(operation.blocks)) if operation.text.strip() else ():
        places = [found.start() for found in alone.finditer(text.text)]
        marked = operation.italic != document.style(text.style).italic
        content = joined(_with_equations(text.content, places, operation, marked=marked)) if places else text.content
        if content != text.content:
            edit = edit.then(edit_text(edit.document, EditText(text.id, content), ids))
    if edit.document is document:
        raise EditError(f"“{operation.text}” stands nowhere alone in the same look.")
    return edit


def _texts(document: Document, rows: frozenset[str]) -> Iterator[TextBlock]:
    for block in document.blocks:
        if not block.excluded and (not rows or block.id in rows):
            yield from (text for text in texts_of(block) if text.role not in LEFT and not text.excluded)


def _with_equations(
    content: Sequence[Inline], places: list[int], operation: MakeEquations, *, marked: bool
) -> Iterator[Inline]:
    """The content with equations in the places that are text with, or without, the mark for italic; links stay as they are."""
    for start, item in spans(content):
        if not isinstance(item, Text) or (Marks.ITALIC in item.marks) != marked or item.link is not None:
            yield item
            continue
        done = 0
        for place in (place - start for place in places):
            if done <= place and place + len(operation.text) <= len(item.text):
                yield item.like(item.text[done:place])
                yield Equation(operation.tree, marks=item.marks & ~Marks.ITALIC, color=item.color)
                done = place + len(operation.text)
        yield item.like(item.text[done:])
