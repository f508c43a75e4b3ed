"""Paragraphs cut into a row for each sentence, as translators want them, and put together again."""

from __future__ import annotations

from typing import TypeGuard

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, splice
from evenquill.core.edits.operations import JoinSentences, SplitSentences
from evenquill.core.errors import EditError
from evenquill.core.model import NOTES, Block, Document, Role, TextBlock
from evenquill.core.model.cutting import cut_block, join_blocks, parting_between
from evenquill.core.model.ids import Ids
from evenquill.core.sentences import sentence_starts

CUT = frozenset({Role.PARAGRAPH, Role.LIST_ITEM, Role.QUOTE, Role.DEFINITION})
"""Kinds of rows that have sentences."""


def split_sentences(document: Document, operation: SplitSentences, ids: Ids) -> Edit:
    chosen = frozenset(operation.blocks)
    blocks: list[Block] = []
    for block in document.blocks:
        if (
            isinstance(block, TextBlock)
            and block.role in CUT
            and not block.excluded
            and (not chosen or block.id in chosen)
        ):
            blocks += _sentences(block, block.language or document.language, ids)
        else:
            blocks.append(block)
    if len(blocks) == len(document.blocks):
        raise EditError("Each row has one sentence already.")
    return splice(document, 0, len(document.blocks), tuple(blocks))


def join_sentences(document: Document, operation: JoinSentences, ids: Ids) -> Edit:
    blocks: list[Block] = []
    before: int | None = None
    for block in document.blocks:
        whole = blocks[before] if before is not None else None
        if before is not None and isinstance(whole, TextBlock) and _is_more(block, whole):
            blocks[before] = join_blocks(whole, block, parting_between(whole, block))
            continue
        if not block.excluded and not (isinstance(block, TextBlock) and block.role in NOTES):
            before = len(blocks)
        blocks.append(block)
    if len(blocks) == len(document.blocks):
        raise EditError("No row is a sentence of the one before it.")
    return splice(document, 0, len(document.blocks), tuple(blocks))


def _is_more(block: Block, whole: TextBlock) -> TypeGuard[TextBlock]:
    """Whether a row is a sentence of the paragraph before it. One that was set aside stays so."""
    return isinstance(block, TextBlock) and block.goes_on and not block.excluded and whole.role in CUT


def _sentences(block: TextBlock, language: str, ids: Ids) -> list[TextBlock]:
    """A row as one for each of its sentences: the first is the row still, the others go on with it."""
    text = block.text
    starts = sentence_starts(text, language)
    out = []
    for n, (start, end) in enumerate(zip((0, *starts), (*starts, len(text)), strict=True)):
        part = cut_block(block, start, start + len(text[start:end].rstrip()))
        if n:
            part = replace(part, id=ids.new(), page_break=False, doubts=(), numbering=None, goes_on=True)
            part = replace(part, role=Role.PARAGRAPH) if part.role is Role.LIST_ITEM else part
        out.append(part)
    return out
