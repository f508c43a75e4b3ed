"""Named styles changed, given to rows, merged, and made of a row."""

from __future__ import annotations

import math
import re
import unicodedata

from msgspec.structs import replace

from evenquill.core.edits.equation_edits import content_for
from evenquill.core.edits.inverse import Edit, Restore, RestoreRunning
from evenquill.core.edits.lookup import any_text
from evenquill.core.edits.style_operations import ApplyStyle, ChangeStyle, MergeStyles, NewStyle, StyleLook, TakeStyles
from evenquill.core.edits.words import moved_words
from evenquill.core.errors import EditError
from evenquill.core.font_names import family_called
from evenquill.core.model import (
    NOTES,
    Align,
    Block,
    Document,
    Inline,
    Marks,
    ParagraphStyle,
    ResolvedStyle,
    Role,
    Text,
    TextBlock,
    texts_of,
    with_changed,
)
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import joined, lettering_of, plain
from evenquill.core.model.sections import Running, RunningPair, RunningPart
from evenquill.core.model.styles import BODY, style_of

LONGEST_NAME = 80
"""Characters of the name of a style, or of a typeface."""

SIZES = (3.0, 300.0)
LENGTHS = (-600.0, 1500.0)
LEADINGS = (3.0, 600.0)
"""Points: sizes of type, indents and spaces, distances of baselines."""

OWN_ROLES = frozenset({Role.CELL, Role.EQUATION, *NOTES})
"""Kinds that text keeps whatever style it is given."""

MOST_TAKEN = 2000
"""Styles that are taken over at once."""

_TAKEN = (
    "font",
    "size",
    "bold",
    "italic",
    "align",
    "left",
    "right",
    "first",
    "before",
    "after",
    "leading",
    "keep_next",
)

_COLOR = re.compile(r"[0-9A-Fa-f]{6}|")


def change_style(document: Document, operation: ChangeStyle, ids: Ids) -> Edit:
    styles = _styles(document)
    at = _place(styles, operation.style)
    look = operation.look
    _check(look)
    given = {field: value for field in look.__struct_fields__ if (value := getattr(look, field)) is not None}
    if not given:
        raise EditError("Nothing of the style is changed.")
    if look.name is not None:
        given["name"] = free_name(document, look.name, operation.style)
    if look.font is not None:
        given["font"] = look.font.strip()
        given["family"] = family_called(look.font)
    changed = (*styles[:at], replace(styles[at], **given), *styles[at + 1 :])
    if changed == document.styles:
        raise EditError("The style is like that already.")
    return _edit(document, changed, {})


def apply_style(document: Document, operation: ApplyStyle, ids: Ids) -> Edit:
    styles = _styles(document)
    _place(styles, operation.style)
    if not operation.blocks:
        raise EditError("No rows are marked.")
    model = _model(document, operation.style)
    rows: dict[int, Block] = {}
    for name in operation.blocks:
        at, text = any_text(document, name)
        rows[at] = with_changed(rows.get(at, document.blocks[at]), _in_style(text, operation.style, model))
    return _edit(document, styles, rows)


def merge_styles(document: Document, operation: MergeStyles, ids: Ids) -> Edit:
    styles = _styles(document)
    _place(styles, operation.into)
    at = _place(styles, operation.style)
    if operation.style == operation.into:
        raise EditError("A style cannot be merged with itself.")
    if at == 0:
        raise EditError("The style of the text stays. Merge the other one with it.")
    gone = operation.style
    # What was based on it keeps its look.
    left = tuple(
        style_of(document.style(style.id), document.body_style) if style.based_on == gone else style
        for style in styles
        if style.id != gone
    )
    model = _model(document, operation.into)
    rows: dict[int, Block] = {}
    for place, block in enumerate(document.blocks):
        for text in texts_of(block):
            if text.style == gone:
                rows[place] = with_changed(rows.get(place, block), _in_style(text, operation.into, model))
    running = tuple(_running_in(part, gone, operation.into) for part in document.running)
    return _edit(document, left, rows, running if running != document.running else None)


def new_style(document: Document, operation: NewStyle, ids: Ids) -> Edit:
    at, text = any_text(document, operation.block)
    name = free_name(document, operation.name, "")
    look = look_of(document, text)
    styles = _styles(document)
    made = style_of(replace(look, id=name, name=name), document.body_style)
    whole, color, font, size = _whole_marks(text), _color(text), _font(text), _size(text)
    content: list[Inline] = []
    for item in text.content:
        item = replace(item, marks=item.marks & ~whole, color=None if color else item.color)
        if isinstance(item, Text):
            own = item.lettering
            own = replace(own, font="" if font else own.font, size=0.0 if size else own.size)
            item = replace(item, lettering=own)
        content.append(item)
    changed = replace(text, style=name, align=None, content=joined(content))
    return _edit(document, (*styles, made), {at: with_changed(document.blocks[at], changed)})


def take_styles(document: Document, operation: TakeStyles, ids: Ids) -> Edit:
    styles = _styles(document)
    if len(operation.styles) > MOST_TAKEN:
        raise EditError(f"At most {MOST_TAKEN} styles can be taken over.")
    taken = {style.name.casefold(): style for style in operation.styles}
    headings = {style.outline: style for style in reversed(operation.styles) if style.outline}
    body = taken.get("body text") or next((style for style in operation.styles if not style.outline), None)
    out = []
    for n, style in enumerate(styles):
        own = document.style(style.id)
        found = headings.get(own.outline) if own.outline else body if n == 0 else taken.get(own.name.casefold())
        if found is not None:
            check_taken(found)
            style = replace(
                style, **{field: getattr(found, field) for field in (*_TAKEN, "family")}, color=found.color or ""
            )
        out.append(style)
    if tuple(out) == document.styles:
        raise EditError("None of these styles is in the document, or they look like that already.")
    return _edit(document, tuple(out), {})


def check_taken(found: ResolvedStyle) -> None:
    """Raises EditError for the look of another document's style that no style here can have."""
    _check(StyleLook(**{field: getattr(found, field) for field in _TAKEN if field not in ("color", "font")}))
    if not _COLOR.fullmatch(found.color or "") or len(found.font) > LONGEST_NAME:
        raise EditError("These are no styles that can be taken over.")


def look_of(document: Document, text: TextBlock) -> ResolvedStyle:
    """The look of a text: that of its style with what is the same in all of it."""
    look = document.style(text.style)
    whole = _whole_marks(text)
    return replace(
        look,
        bold=look.bold != (Marks.BOLD in whole),
        italic=look.italic != (Marks.ITALIC in whole),
        align=Align.RIGHT if text.align is Align.DECIMAL else text.align or look.align,
        color=_color(text) or look.color,
        font=_font(text) or look.font,
        size=_size(text) or look.size,
    )


def _font(text: TextBlock) -> str:
    """The typeface that all of a text was given."""
    fonts = {lettering_of(item).font for item in text.content if isinstance(item, Text)}
    return fonts.pop() if len(fonts) == 1 else ""


def _size(text: TextBlock) -> float:
    """The size that all of a text was given."""
    sizes = {lettering_of(item).size for item in text.content if isinstance(item, Text)}
    return sizes.pop() if len(sizes) == 1 else 0.0


def _whole_marks(text: TextBlock) -> Marks:
    """Bold and italic, as far as all of a text has them against its style."""
    marks = Marks.BOLD | Marks.ITALIC if text.content else Marks.NONE
    for item in text.content:
        marks &= item.marks
    return marks


def _color(text: TextBlock) -> str | None:
    """The colour that all of a text has."""
    colors = {item.color for item in text.content}
    return colors.pop() if len(colors) == 1 else None


def _styles(document: Document) -> tuple[ParagraphStyle, ...]:
    return document.styles or (style_of(BODY),)


def _place(styles: tuple[ParagraphStyle, ...], name: str) -> int:
    for at, style in enumerate(styles):
        if style.id == name:
            return at
    raise EditError("That style is no longer there.")


def free_name(document: Document, name: str, own: str) -> str:
    """A name for a style as it is kept. Raises EditError where another style has it, or it is none."""
    name = "".join(c for c in name if unicodedata.category(c)[0] != "C").strip()
    if not name or len(name) > LONGEST_NAME:
        raise EditError(f"A style has a name of 1 to {LONGEST_NAME} characters.")
    if any(name in (style.id, style.name) for style in document.resolved_styles.values() if style.id != own):
        raise EditError(f"There is a style “{name}” already.")
    return name


def _check(look: StyleLook) -> None:
    _check_length("Letters are", look.size, SIZES)
    for value in (look.left, look.right, look.first, look.before, look.after):
        _check_length("Indents and spaces are", value, LENGTHS)
    if look.leading != 0:
        _check_length("Lines are", look.leading, LEADINGS)
    if look.color is not None and not _COLOR.fullmatch(look.color):
        raise EditError("A colour has six hexadecimal digits.")
    if look.font is not None and not 0 < len(look.font.strip()) <= LONGEST_NAME:
        raise EditError("A typeface has a name.")
    if look.align is Align.DECIMAL:
        raise EditError("Only cells of tables are aligned by decimals.")


def _check_length(what: str, value: float | None, limits: tuple[float, float]) -> None:
    low, high = limits
    if value is not None and not (math.isfinite(value) and low <= value <= high):
        raise EditError(f"{what} {low:g} to {high:g} points.")


def _model(document: Document, style: str) -> TextBlock | None:
    """A row of a style: what others become that are given it."""
    for block in document.blocks:
        if isinstance(block, TextBlock) and block.style == style and block.role not in OWN_ROLES:
            return block
    return None


def _in_style(text: TextBlock, style: str, model: TextBlock | None) -> TextBlock:
    text = replace(text, style=style)
    if model is None or text.role in OWN_ROLES or (text.role, text.level) == (model.role, model.level):
        return text
    content = content_for(model.role, text)
    numbering = None
    if model.role is Role.LIST_ITEM:
        numbering = text.numbering or (model.numbering and replace(model.numbering, start=None))
    return replace(
        text,
        role=model.role,
        level=model.level,
        numbering=numbering,
        content=content,
        words=moved_words(text.words, text.text, plain(content)),
        doubts=tuple(doubt for doubt in text.doubts if doubt.role is None),
    )


def _running_in(part: RunningPart, gone: str, into: str) -> RunningPart:
    def changed(running: Running | None) -> Running | None:
        return replace(running, style=into) if running is not None and running.style == gone else running

    def pair(one: RunningPair | None) -> RunningPair | None:
        return one and replace(one, header=changed(one.header), footer=changed(one.footer))

    return replace(part, usual=pair(part.usual) or RunningPair(), even=pair(part.even), first=pair(part.first))


def _edit(
    document: Document,
    styles: tuple[ParagraphStyle, ...],
    rows: dict[int, Block],
    running: tuple[RunningPart, ...] | None = None,
) -> Edit:
    """The document with other styles and some rows changed, as one step."""
    changed = {at: block for at, block in rows.items() if block != document.blocks[at]}
    if not changed and styles == document.styles and running is None:
        raise EditError("They have that style already.")
    blocks = list(document.blocks)
    inverse: list[Restore | RestoreRunning] = []
    for at, block in changed.items():
        inverse.append(Restore(at, 1, (blocks[at],)))
        blocks[at] = block
    after = replace(document, blocks=tuple(blocks) if changed else document.blocks, styles=styles)
    if styles != document.styles:
        inverse.append(Restore(0, 0, (), document.styles))
    if running is not None:
        after = replace(after, running=running)
        inverse.append(RestoreRunning(document.running))
    return Edit(after, tuple(inverse))
