"""Blocks to be edited."""

from __future__ import annotations

from evenquill.core.model import (
    Box,
    Cell,
    Document,
    ParagraphStyle,
    PictureBlock,
    Role,
    Spot,
    TableBlock,
    Text,
    TextBlock,
    WordSpot,
)


def block(id: str, text: str, page: int = 1, **more) -> TextBlock:
    """A text block with a word spot for each word, ten points to the letter."""
    words = []
    at = 0
    for word in text.split(" "):
        words.append(WordSpot(at, at + len(word), page, Box(at * 10, 100, (at + len(word)) * 10, 112)))
        at += len(word) + 1
    spots = (Spot(page, Box(0, 100, len(text) * 10, 112)),) if text else ()
    return TextBlock(
        id, content=(Text(text),) if text else (), style="Body text", words=tuple(words), spots=spots, **more
    )


def table(id: str, rows: list[list[str]], **more) -> TableBlock:
    """A table with a paragraph in each cell."""
    row_ids = tuple(f"{id}.row{r}" for r in range(len(rows)))
    cells = (
        Cell(f"{id}.{r}.{c}.cell", r, c, (block(f"{id}.{r}.{c}", text, role=Role.CELL),))
        for r, row in enumerate(rows)
        for c, text in enumerate(row)
    )
    return TableBlock(id, (60.0,) * len(rows[0]), row_ids, tuple(cells), spots=(Spot(1, Box(0, 80, 200, 120)),), **more)


def three_rows_and_a_picture() -> Document:
    return Document(
        styles=(ParagraphStyle("Body text", size=11),),
        blocks=(
            block("a", "The float was found"),
            block("b", "hard against the wire", page=2),
            PictureBlock("i", "0" * 64, "image/png", 200, 100),
            block("c", "Last row"),
        ),
    )


def texts(document: Document) -> list[str]:
    return [block.text for block in document.blocks if isinstance(block, TextBlock)]


def words(block: TextBlock) -> dict[str, tuple[int, float]]:
    return {block.text[word.start : word.end]: (word.page, word.box.x0) for word in block.words}
