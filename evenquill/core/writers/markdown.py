"""A document -> Markdown: CommonMark 0.31 with tables, notes and formulas as most programs read them.

Pictures are in the file itself, at its end, so that nothing else is needed.
"""

from __future__ import annotations

import base64
import itertools
import re
from collections.abc import Iterable, Sequence

from evenquill.core.equations.tex import tex
from evenquill.core.model import (
    Block,
    Break,
    Document,
    Equation,
    Field,
    Inline,
    InlinePicture,
    Marks,
    NoteRef,
    NumberFormat,
    PictureBlock,
    ResolvedStyle,
    Role,
    Tab,
    TableBlock,
    TextBlock,
    UrlLink,
)
from evenquill.core.resolve import Resolved, resolve
from evenquill.core.resolve.list_labels import list_labels
from evenquill.core.resolve.notes import Note, NoteKind
from evenquill.core.writers.picture import GetPicture

DEEPEST_HEADING = 6
LONGEST_INDENT = 12
"""Spaces before the items of the deepest lists, at most."""

_SPECIAL = re.compile(r"([\\`*_\[\]<>|~$^])")
_AT_START = re.compile(r"^(?:(\d+)(?=[.)])|(?=[#+\-=:]))", re.MULTILINE)
"""Where a line of text begins as a heading, an item or a definition does."""

_NUMBER = re.compile(r"^\d{1,9}[.)]$")
_OUTER = (
    (Marks.STRIKE, "~~", "~~"), (Marks.UNDERLINE, "<u>", "</u>"), (Marks.SUPER, "<sup>", "</sup>"), (Marks.SUB, "<sub>", "</sub>"),
)  # fmt: skip


def write_markdown(document: Document, picture: GetPicture) -> bytes:
    """The document as Markdown in UTF-8, blocks that are set aside left out, without running heads and looks that Markdown has not."""
    resolved = resolve(document)
    writer = _Writer(resolved, picture)
    parts = [writer.group(kind, list(own)) for kind, own in itertools.groupby(resolved.blocks, key=_kind)]
    parts += [f"[^{mark_of(note)}]: {writer.text(note.block)}" for note in resolved.notes.values()]
    parts += writer.pictures()
    return ("\n\n".join(part for part in parts if part) + "\n").encode()


def mark_of(note: Note) -> str:
    """What a note is called: notes at the end have a letter before their number, so that it is no other's."""
    return str(note.number) if note.kind is NoteKind.FOOTNOTE else f"e{note.number}"


def _kind(block: Block) -> str:
    """Blocks that follow one another without an empty line between."""
    if not isinstance(block, TextBlock):
        return block.id
    return block.role if block.role in (Role.LIST_ITEM, Role.CODE, Role.CONTENTS) else block.id


class _Writer:
    def __init__(self, resolved: Resolved, picture: GetPicture) -> None:
        self._resolved = resolved
        self._picture = picture
        self._labels = list_labels(resolved.document.blocks)
        self._pictures: dict[str, tuple[str, str]] = {}

    def group(self, kind: str, blocks: Sequence[Block]) -> str:
        if kind == Role.CODE:
            lines = "\n".join(block.text.replace("\t", "    ") for block in blocks if isinstance(block, TextBlock))
            fence = "`" * max([3, *(len(run) + 1 for run in re.findall(r"`+", lines))])
            return f"{fence}\n{lines}\n{fence}"
        if kind == Role.LIST_ITEM:
            return self._list([block for block in blocks if isinstance(block, TextBlock)])
        if kind == Role.CONTENTS:
            return "\\\n".join(self._line(block) for block in blocks if isinstance(block, TextBlock))
        return "\n\n".join(map(self._block, blocks))

    def text(self, block: TextBlock) -> str:
        """The content of a block, as it stands within a line."""
        return self._content(block.content, self._resolved.style(block)).strip()

    def pictures(self) -> list[str]:
        """Where the pictures that were shown are, at the end of the file."""
        lines = [
            f"[{name}]: data:{media};base64,{base64.b64encode(self._picture(sha)).decode()}"
            for sha, (name, media) in self._pictures.items()
        ]
        return ["\n".join(lines)] if lines else []

    def _block(self, block: Block) -> str:
        if isinstance(block, TableBlock):
            return self._table(block)
        if isinstance(block, PictureBlock):
            return self._image(block.picture, block.media, block.alt)
        text = self._line(block)
        if block.role is Role.HEADING:
            return "#" * min(max(block.level, 1), DEEPEST_HEADING) + " " + self.text(block).replace("\\\n", " ")
        if block.role is Role.QUOTE:
            return "\n".join(f"> {line}" for line in text.split("\n"))
        if block.role is Role.DEFINITION:
            return f":   {self.text(block)}"
        return text

    def _line(self, block: TextBlock) -> str:
        """The content of a block where nothing in it can be taken for the beginning of another kind."""
        return _AT_START.sub(lambda found: f"{found[1] or ''}\\", self.text(block))

    def _list(self, items: Sequence[TextBlock]) -> str:
        """Items of lists: numbers as they are counted, bullets as dashes, and other marks as they are."""
        lines = []
        for item in items:
            numbering = item.numbering
            label = self._labels.get(item.id, "•")
            if numbering is None or not numbering.ordered:
                label = "-"
            elif numbering.format is not NumberFormat.DECIMAL or not _NUMBER.match(label):
                label = _escaped(label)
            indent = " " * min(4 * item.level, LONGEST_INDENT)
            inner = self._line(item).replace("\n", f"\n{indent}    ")
            lines.append(f"{indent}{label} {inner}")
        loose = any(not line.lstrip()[:1].isdigit() and not line.lstrip().startswith("-") for line in lines)
        return ("\n\n" if loose else "\n").join(lines)

    def _table(self, block: TableBlock) -> str:
        """A table with lines between its cells; the first row is its head, an empty one where it has none."""
        rows = [[""] * len(block.widths) for _ in range(block.row_count)]
        for cell in block.cells:
            inner = "<br>".join(self._labelled(text) for text in cell.texts)
            rows[cell.row][cell.column] = inner.replace("\\\n", "<br>").replace("\n", " ")
        if not block.header_rows:
            rows.insert(0, [""] * len(block.widths))
        lines = ["| " + " | ".join(row) + " |" for row in rows]
        return "\n".join([lines[0], "|" + " --- |" * len(block.widths), *lines[1:]])

    def _labelled(self, text: TextBlock) -> str:
        """A text of a cell; there are no lists in cells, so that marks of items are said in words."""
        label = self._labels.get(text.id)
        return f"{_escaped(label)} {self.text(text)}" if label is not None else self.text(text)

    def _content(self, content: Iterable[Inline], style: ResolvedStyle) -> str:
        out = ""
        for item in content:
            shown = self._item(item, style)
            # Emphasis that ends where the next begins would be read as one sign.
            out += "<!-- -->" + shown if out[-1:] in "*~" and shown[:1] == out[-1:] and out else shown
        return out

    def _item(self, item: Inline, style: ResolvedStyle) -> str:
        if isinstance(item, NoteRef):
            note = self._resolved.notes.get(item.note)
            return f"[^{mark_of(note)}]" if note is not None else _escaped(item.mark)
        if isinstance(item, Equation):
            around = "$$" if item.display else "$"
            number = f" \\qquad \\text{{{item.number}}}" if item.number else ""
            return f"{around}{tex(item.tree)}{number}{around}"
        if isinstance(item, InlinePicture):
            return self._image(item.picture, item.media, item.alt)
        if isinstance(item, Field):
            return ""
        if isinstance(item, Break):
            return "\\\n"
        if isinstance(item, Tab):
            return " &emsp; "
        text = _escaped(item.text)
        inner = text.strip()
        if not inner:
            return text
        before, after = text[: len(text) - len(text.lstrip())], text[len(text.rstrip()) :]
        for mark, opening, closing in _OUTER:
            if mark in item.marks:
                inner = f"{opening}{inner}{closing}"
        heavy, slanted = (
            (Marks.BOLD in item.marks) and not style.bold,
            (Marks.ITALIC in item.marks) and not style.italic,
        )
        around = "*" * (2 * heavy + slanted)
        inner = f"{around}{inner}{around}"
        if isinstance(item.link, UrlLink):
            inner = f"[{inner}](<{item.link.url.replace('>', '%3E')}>)"
        return f"{before}{inner}{after}"

    def _image(self, picture: str, media: str, alt: str) -> str:
        name, _ = self._pictures.setdefault(picture, (f"picture-{len(self._pictures) + 1}", media))
        return f"![{_escaped(alt)}][{name}]"


def _escaped(text: str) -> str:
    """Text in which no sign is markup."""
    return _SPECIAL.sub(r"\\\1", text).replace("&", "&amp;")
