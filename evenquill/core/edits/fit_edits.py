"""Making a document fit its pages: spacing and sizes of all styles by a factor, and rows that begin pages."""

from __future__ import annotations

import math

from msgspec.structs import replace

from evenquill.core.edits.fit_operations import FitPages
from evenquill.core.edits.inverse import Edit, splice
from evenquill.core.errors import EditError
from evenquill.core.model import Document, ParagraphStyle, ResolvedStyle
from evenquill.core.model.ids import Ids
from evenquill.core.model.styles import SINGLE

NARROWEST, WIDEST = 0.7, 1.5
"""Factors that are taken."""

STEP = 0.5
"""Sizes of type in word processors go by half points."""


def fit_pages(document: Document, operation: FitPages, ids: Ids) -> Edit:
    for factor in (operation.spacing, operation.size):
        if not (math.isfinite(factor) and NARROWEST <= factor <= WIDEST):
            raise EditError(f"Spacing and sizes change by {NARROWEST:g} to {WIDEST:g} times.")
    edit = Edit(document, ())
    for name in operation.starts:
        edit = edit.then(_begun_with(edit.document, name))
    styles = tuple(_scaled(style, document.resolved_styles[style.id], operation) for style in edit.document.styles)
    if styles != document.styles:
        edit = edit.then(splice(edit.document, 0, 0, (), styles))
    if edit.document == document:
        raise EditError("The document is like that already.")
    return edit


def _begun_with(document: Document, name: str) -> Edit:
    try:
        at = document.index(name)
    except KeyError:
        raise EditError("That row is no longer there.") from None
    return splice(document, at, 1, (replace(document.blocks[at], page_break=True),))


def _scaled(style: ParagraphStyle, look: ResolvedStyle, wanted: FitPages) -> ParagraphStyle:
    """A style with other spacing and size; distances of lines go with the size."""
    if wanted.spacing == wanted.size == 1.0:
        return style
    size = look.size if wanted.size == 1.0 else max(round(look.size * wanted.size / STEP), 1) * STEP
    leading = (look.leading or SINGLE * look.size) * wanted.spacing * size / look.size
    return replace(
        style,
        size=size,
        leading=round(max(leading, min(size, leading / wanted.spacing)), 2),
        before=round(look.before * wanted.spacing, 2),
        after=round(look.after * wanted.spacing, 2),
    )
