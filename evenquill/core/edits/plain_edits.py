"""A document made plain: body, headings, lists, notes and clean tables in one typeface, for translators and those who style it anew."""

from __future__ import annotations

import msgspec
from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, Restore, RestoreSections
from evenquill.core.edits.kinds import style_for
from evenquill.core.edits.operations import MakePlain
from evenquill.core.edits.table_text import lines_of
from evenquill.core.edits.words import moved_words
from evenquill.core.errors import EditError
from evenquill.core.find import running_of
from evenquill.core.font_names import family_called
from evenquill.core.model import (
    NOTES,
    Align,
    Block,
    Break,
    Document,
    Inline,
    Marks,
    ParagraphStyle,
    PictureBlock,
    ResolvedStyle,
    Role,
    Text,
    TextBlock,
    texts_of,
)
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import AS_STYLED, joined, lettering_of, plain
from evenquill.core.model.sides import Sides
from evenquill.core.model.styles import BODY, style_of

SIZE, AFTER = 11.0, 6.0
"""Points of plain text, and after each of its paragraphs."""

KEPT_ROLES = frozenset({Role.PARAGRAPH, Role.HEADING, Role.LIST_ITEM, Role.CELL, Role.EQUATION, *NOTES})
"""Kinds that rows keep; all others become paragraphs."""

LINED = frozenset({Role.VERSE, Role.CODE})
"""Kinds whose lines are what their author made them: each becomes a paragraph."""

MEANING = Marks.SUPER | Marks.SUB
"""What is not only a look: 10² is not 102."""


class Plainness(msgspec.Struct, frozen=True):
    """How much of a document is made plain: rows that become paragraphs, stretches of text that lose their look, line breaks that become
    spaces, styles that are left of how many, and whether columns are given up."""

    rows: int
    looks: int
    breaks: int
    styles_before: int
    styles_after: int
    columns: bool


def make_plain(document: Document, operation: MakePlain, ids: Ids) -> Edit:
    after = plain_document(document, ids, operation.font)
    if after == document:
        raise EditError("The document is plain already.")
    inverse = (Restore(0, len(after.blocks), document.blocks, document.styles), RestoreSections(document.sections))
    return Edit(after, inverse)


def plain_document(document: Document, ids: Ids, font: str = "") -> Document:
    """The document in plain styles; ``font`` is their typeface, that of its text where it is not given. What is set aside stays so."""
    font = font.strip() or document.body_style.font
    body = replace(
        BODY, font=font, family=family_called(font) if font else document.body_style.family, size=SIZE, after=AFTER
    )
    bare = Document(language=document.language, styles=(style_of(body),))
    styles: dict[str, ResolvedStyle] = {body.id: body}

    def styled(role: Role, level: int) -> str:
        look = style_for(bare, role, level)
        styles.setdefault(look.id, look)
        return look.id

    def text(block: TextBlock) -> TextBlock:
        role = block.role if block.role in KEPT_ROLES else Role.PARAGRAPH
        content = joined(map(_plain, block.content))
        return replace(
            block,
            role=role,
            level=block.level if role is block.role else 0,
            style=styled(role, block.level),
            content=content,
            words=moved_words(block.words, block.text, plain(content)),
            align=None,
            page_break=False,
            sides=Sides.NONE,
        )

    def rows(block: Block) -> tuple[Block, ...]:
        if isinstance(block, TextBlock):
            lines = lines_of(block) if block.role in LINED else [block]
            return tuple(text(line if n == 0 else replace(line, id=ids.new())) for n, line in enumerate(lines))
        if isinstance(block, PictureBlock):
            return (replace(block, align=Align.LEFT, page_break=False),)
        cells = tuple(replace(cell, texts=tuple(map(text, cell.texts)), sides=None, fill="") for cell in block.cells)
        return (replace(block, cells=cells, ruled=True, align=Align.LEFT, page_break=False),)

    blocks = tuple(row for block in document.blocks for row in rows(block))
    used = {running.style for part in document.running for _, running in running_of(part)}
    kept = [
        style_of(document.style(name), body) for name in used if name in document.resolved_styles and name not in styles
    ]
    made: tuple[ParagraphStyle, ...] = (
        style_of(body),
        *(style_of(look, body) for name, look in styles.items() if name != body.id),
        *sorted(kept, key=lambda style: style.id),
    )
    sections = tuple(replace(section, columns=1) for section in document.sections)
    return replace(document, blocks=blocks, styles=made, sections=sections)


def plainness(document: Document) -> Plainness:
    """What making a document plain would do to it."""
    after = plain_document(document, Ids.above(document))
    texts = [text for block in document.blocks if not block.excluded for text in texts_of(block)]
    looks = sum(
        1
        for text in texts
        for item in text.content
        if item.marks & ~MEANING or item.color or lettering_of(item) != AS_STYLED
    )
    breaks = sum(isinstance(item, Break) for text in texts if text.role not in LINED for item in text.content)
    return Plainness(
        sum(text.role not in KEPT_ROLES for text in texts),
        looks,
        breaks,
        len(document.styles),
        len(after.styles),
        any(section.columns > 1 for section in document.sections),
    )


def _plain(item: Inline) -> Inline:
    item = replace(item, marks=item.marks & MEANING, color=None)
    if isinstance(item, Text):
        item = replace(item, lettering=AS_STYLED)
    return Text(" ", marks=item.marks, link=item.link) if isinstance(item, Break) else item
