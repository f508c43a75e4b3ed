"""Styles for a block that is given another kind: the one that such blocks have in the document, or a new one."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.model import NOTES, Align, Document, Family, ParagraphStyle, Role

HEADING_SIZES = (1.8, 1.45, 1.2, 1.1)
"""Sizes of new heading styles over that of the text, by level."""


SET_IN = 24.0
"""Points by which quotations, verse and definitions are set in."""


def style_for(document: Document, role: Role, level: int) -> ParagraphStyle:
    """The style in use for such blocks, else the one that a new block of the kind is given."""
    for block in document.texts:
        if block.role is role and (block.level == level or role is Role.PARAGRAPH):
            if role is Role.PARAGRAPH:
                break
            return document.style(block.style)
    body = document.styles[0] if document.styles else ParagraphStyle("Body text")
    if role is Role.HEADING:
        size = round(body.size * HEADING_SIZES[min(level, len(HEADING_SIZES)) - 1] * 2) / 2
        return _named(
            document,
            replace(body, name=f"Heading {level}", size=size, bold=True, outline=level, keep_next=True, leading=0.0,
                    before=body.size, left=0.0, first=0.0),
        )  # fmt: skip
    if role is Role.LIST_ITEM:
        name = "List item" if level == 0 else f"List item, depth {level + 1}"
        return _named(document, replace(body, name=name, left=0.0, first=0.0))
    if role in NOTES:
        name = "Footnote text" if role is Role.NOTE else "Endnote text"
        return _named(document, replace(body, name=name, size=body.size - 1.5, leading=0.0))
    if role is Role.CAPTION:
        return _named(document, replace(body, name="Caption", size=body.size - 1, leading=0.0, left=0.0, first=0.0))
    if role in (Role.QUOTE, Role.VERSE):
        name = "Quotation" if role is Role.QUOTE else "Verse"
        return _named(document, replace(body, name=name, left=SET_IN, first=0.0, align=Align.LEFT))
    if role is Role.TERM:
        return _named(document, replace(body, name="Definition Term", left=0.0, first=0.0, bold=True, keep_next=True))
    if role is Role.DEFINITION:
        return _named(document, replace(body, name="Definition", left=SET_IN, first=0.0))
    if role is Role.CONTENTS:
        indent = 12.0 * (level - 1)
        return _named(document, replace(body, name=f"Contents {level}", left=indent, first=0.0, align=Align.LEFT))
    if role is Role.CELL:
        return _named(document, replace(body, name="Table text", left=0.0, first=0.0, before=0.0, align=Align.LEFT))
    if role is Role.CODE:
        family, font = Family.MONO, "Liberation Mono"
        return _named(
            document,
            replace(body, name="Code", family=family, font=font, left=0.0, first=0.0, align=Align.LEFT, leading=0.0),
        )
    return body


def styles_with(document: Document, style: ParagraphStyle) -> tuple[ParagraphStyle, ...]:
    """The document's styles, with one more where it does not have it yet."""
    return document.styles if style in document.styles else (*document.styles, style)


def _named(document: Document, style: ParagraphStyle) -> ParagraphStyle:
    """The document's style of that name, where it has one."""
    return next((other for other in document.styles if other.name == style.name), style)
