"""A document -> plain text: paragraphs parted by empty lines, or each on a line of its own, as translators want it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from evenquill.core.equations.tex import tex
from evenquill.core.model import (
    Break,
    Document,
    Equation,
    Field,
    Inline,
    InlinePicture,
    NoteRef,
    PictureBlock,
    TableBlock,
    TextBlock,
)
from evenquill.core.resolve import Resolved, resolve
from evenquill.core.resolve.list_labels import list_labels

INDENT = "    "
"""Before items of a list, once for each level that they are deeper."""


def write_plain_text(document: Document, *, one_line: bool = False) -> bytes:
    """The document as text in UTF-8, blocks that are set aside left out; notes stand at the end. ``one_line`` puts each paragraph on one
    line, breaks within it as spaces, and nothing between them."""
    resolved = resolve(document)
    parts = list(_parts(resolved))
    if one_line:
        return "".join(row.replace("\n", " ") + "\n" for rows in parts for row in rows).encode()
    return ("\n\n".join("\n".join(rows) for rows in parts) + "\n").encode()


def _parts(resolved: Resolved) -> Iterator[list[str]]:
    """Each paragraph, and the rows of each table, with tabs between their cells."""
    labels = list_labels(resolved.document.blocks)
    for block in resolved.blocks:
        if isinstance(block, TextBlock):
            yield [f"{INDENT * block.level if block.is_item else ''}{_labelled(block, resolved, labels)}"]
        elif isinstance(block, TableBlock):
            yield _rows(block, resolved, labels)
        elif isinstance(block, PictureBlock) and block.alt:
            yield [f"[{block.alt}]"]
    for note in resolved.notes.values():
        yield [f"[{note.number}] {_text(note.block, resolved)}"]


def _rows(block: TableBlock, resolved: Resolved, labels: Mapping[str, str]) -> list[str]:
    rows = [[""] * len(block.widths) for _ in range(block.row_count)]
    for cell in block.cells:
        texts = " ".join(_labelled(text, resolved, labels) for text in cell.texts)
        rows[cell.row][cell.column] = " ".join(texts.split())
    return ["\t".join(row).rstrip() for row in rows]


def _labelled(block: TextBlock, resolved: Resolved, labels: Mapping[str, str]) -> str:
    text = _text(block, resolved)
    return f"{labels[block.id]} {text}" if block.id in labels else text


def _text(block: TextBlock, resolved: Resolved) -> str:
    return "".join(_shown(item, resolved) for item in block.content)


def _shown(item: Inline, resolved: Resolved) -> str:
    if isinstance(item, NoteRef):
        note = resolved.notes.get(item.note)
        return f"[{note.number}]" if note is not None else item.mark
    if isinstance(item, Equation):
        return tex(item.tree) + (f"\t{item.number}" if item.number else "")
    if isinstance(item, InlinePicture):
        return item.alt
    if isinstance(item, Field):
        return ""
    return "\n" if isinstance(item, Break) else item.text
