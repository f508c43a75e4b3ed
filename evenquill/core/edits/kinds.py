"""Styles for a block that is given another kind: the one that such blocks have in the document, or a new one."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.model import (
    NOTES,
    Align,
    Document,
    Family,
    NumberFormat,
    Numbering,
    ParagraphStyle,
    ResolvedStyle,
    Role,
)
from evenquill.core.model.styles import BODY, style_of

HEADING_SIZES = (1.8, 1.45, 1.2, 1.1)
"""Sizes of new heading styles over that of the text, by level."""


SET_IN = 24.0
"""Points by which quotations, verse and definitions are set in."""


def style_for(document: Document, role: Role, level: int) -> ResolvedStyle:
    """The style in use for such blocks, else the one that a new block of the kind is given."""
    for block in document.texts:
        if block.role is role and (block.level == level or role is Role.PARAGRAPH):
            if role is Role.PARAGRAPH:
                break
            return document.style(block.style)
    body = document.body_style

    def named(name: str, **look: object) -> ResolvedStyle:
        return document.resolved_styles.get(name) or replace(body, id=name, name=name, **look)

    if role is Role.HEADING:
        size = round(body.size * HEADING_SIZES[min(level, len(HEADING_SIZES)) - 1] * 2) / 2
        return named(
            f"Heading {level}", size=size, bold=True, outline=level, keep_next=True, leading=0.0, before=body.size, left=0.0, first=0.0
        )  # fmt: skip
    if role is Role.LIST_ITEM:
        return named("List item" if level == 0 else f"List item, depth {level + 1}", left=0.0, first=0.0)
    if role in NOTES:
        return named("Footnote text" if role is Role.NOTE else "Endnote text", size=body.size - 1.5, leading=0.0)
    if role is Role.CAPTION:
        return named("Caption", size=body.size - 1, leading=0.0, left=0.0, first=0.0)
    if role in (Role.QUOTE, Role.VERSE):
        return named("Quotation" if role is Role.QUOTE else "Verse", left=SET_IN, first=0.0, align=Align.LEFT)
    if role is Role.TERM:
        return named("Definition Term", left=0.0, first=0.0, bold=True, keep_next=True)
    if role is Role.DEFINITION:
        return named("Definition", left=SET_IN, first=0.0)
    if role is Role.CONTENTS:
        return named(f"Contents {level}", left=12.0 * (level - 1), first=0.0, align=Align.LEFT)
    if role is Role.CELL:
        return named("Table text", left=0.0, first=0.0, before=0.0, align=Align.LEFT)
    if role is Role.EQUATION:
        return named("Equation", left=0.0, first=0.0, align=Align.CENTER)
    if role is Role.CODE:
        family, font = Family.MONO, "Liberation Mono"
        return named("Code", family=family, font=font, left=0.0, first=0.0, align=Align.LEFT, leading=0.0)
    return body


def usual_numbering(level: int, *, ordered: bool) -> Numbering:
    """The marks that items of a depth have where nothing else says: numbers and letters in turn, or three signs in turn."""
    if ordered:
        form, pattern = [(NumberFormat.DECIMAL, "%."), (NumberFormat.LOWER_LETTER, "%)")][level % 2]
        return Numbering(form, pattern)
    return Numbering(NumberFormat.BULLET, ("•", "◦", "▪")[level % 3])


def styles_with(document: Document, style: ResolvedStyle) -> tuple[ParagraphStyle, ...]:
    """The document's styles, with one more, based on that of the text, where it does not have it yet."""
    if style.id in document.resolved_styles:
        return document.styles
    base = document.styles or (style_of(BODY),)
    return (*base, style_of(style, document.body_style))
