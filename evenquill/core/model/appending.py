"""Documents one after the other, as one."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace

from evenquill.core.model.blocks import Block, TableBlock, TextBlock
from evenquill.core.model.document import Document
from evenquill.core.model.ids import ids_in, renamed
from evenquill.core.model.sections import Running, RunningPair, RunningPart
from evenquill.core.model.styles import ParagraphStyle


def appended(whole: Document, part: Document, prefix: str) -> Document:
    """The document with another one behind it, whose ids come to begin with ``prefix`` and whose pages have their numbers already. A
    style, or what stands for a typeface, is that of the document where it has one of the same name."""
    names = {name: prefix + name for name in ids_in(part)}
    own = renamed(part, names)
    known = {style.id for style in whole.styles}
    named = {one.name.casefold() for one in whole.stand_ins}
    keys = tuple(replace(key, block=names.get(key.block, key.block)) for key in own.settled.kept)
    return replace(
        whole,
        title=whole.title or own.title,
        language=whole.language or own.language,
        blocks=(*whole.blocks, *own.blocks),
        styles=(*whole.styles, *(style for style in own.styles if style.id not in known)),
        pages=(*whole.pages, *own.pages),
        sections=(*whole.sections, *own.sections),
        running=(*whole.running, *own.running),
        remarks=(*whole.remarks, *own.remarks),
        stand_ins=(*whole.stand_ins, *(one for one in own.stand_ins if one.name.casefold() not in named)),
        settled=replace(
            whole.settled,
            kept=(*whole.settled.kept, *keys),
            words=tuple(dict.fromkeys((*whole.settled.words, *own.settled.words))),
        ),
    )


def with_styles_apart(part: Document, whole: Document, mark: str) -> Document:
    """The document with those of its styles that another one has under the same name, but with another look, named apart by a ``mark``."""
    known = {style.id: whole.style(style.id) for style in whole.styles}
    names = {name: f"{name} ({mark})" for name, look in part.resolved_styles.items() if known.get(name, look) != look}

    def named(name: str) -> str:
        return names.get(name, name)

    def apart(style: ParagraphStyle) -> ParagraphStyle:
        own = replace(style, id=named(style.id), based_on=named(style.based_on))
        return replace(own, name=f"{style.name} ({mark})") if style.id in names and style.name else own

    return replace(
        part,
        styles=tuple(map(apart, part.styles)),
        blocks=tuple(_restyled(block, named) for block in part.blocks),
        running=tuple(_restyled_part(one, named) for one in part.running),
    )


def _restyled(block: Block, named: Callable[[str], str]) -> Block:
    if isinstance(block, TextBlock):
        return replace(block, style=named(block.style))
    if isinstance(block, TableBlock):
        cells = tuple(
            replace(cell, texts=tuple(replace(text, style=named(text.style)) for text in cell.texts))
            for cell in block.cells
        )
        return replace(block, cells=cells)
    return block


def _restyled_part(part: RunningPart, named: Callable[[str], str]) -> RunningPart:
    def row(running: Running | None) -> Running | None:
        return replace(running, style=named(running.style)) if running is not None else None

    def pair(one: RunningPair) -> RunningPair:
        return RunningPair(row(one.header), row(one.footer))

    even, first = (pair(one) if one is not None else None for one in (part.even, part.first))
    return replace(part, usual=pair(part.usual), even=even, first=first)
