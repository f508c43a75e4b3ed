"""Where the row of each block, and of each text in a cell, stands in a document."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.model.blocks import Block, names_of

MOST_CHANGES = 64
"""After so many changes places are worked out anew: each lookup goes through them."""


class _Moved(NamedTuple):
    """Rows from place ``start`` on have moved by so many places."""

    start: int
    by: int


class Places:
    """Places of rows by the ids of blocks and of texts in cells. A change makes another one of it, in a time that does not grow with the
    document: only what changed is noted, on top of the places of an earlier document."""

    def __init__(
        self,
        earlier: dict[str, int],
        changed: dict[str, tuple[int, int] | None],
        moves: tuple[_Moved, ...],
        row_of_text: dict[str, str],
    ) -> None:
        self._earlier = earlier
        self._changed = changed
        """Of rows that came later the place, and how many moves there were then; None for rows that are gone."""
        self._moves = moves
        self._row_of_text = row_of_text

    @classmethod
    def of(cls, blocks: Sequence[Block]) -> Places:
        """The places of a whole document."""
        return cls({block.id: place for place, block in enumerate(blocks)}, {}, (), _rows_of_texts(blocks))

    def after(self, blocks: Sequence[Block], at: int, old: Sequence[Block]) -> Places:
        """The places of a document with ``blocks``, in which the blocks ``old`` from place ``at`` on have given way to others."""
        grown = len(blocks) - len(self)
        new = blocks[at : at + len(old) + grown]
        texts, texts_before = _rows_of_texts(new), _rows_of_texts(old)
        if texts == texts_before and [block.id for block in new] == [block.id for block in old]:
            return self
        if len(self._moves) >= MOST_CHANGES:
            return Places.of(blocks)
        changed = self._changed | dict.fromkeys(block.id for block in old)
        since = len(self._moves) + 1
        changed |= {block.id: (at + n, since) for n, block in enumerate(new)}
        row_of_text = self._row_of_text
        if texts or texts_before:
            row_of_text = {name: row for name, row in row_of_text.items() if name not in texts_before} | texts
        return Places(self._earlier, changed, (*self._moves, _Moved(at + len(old), grown)), row_of_text)

    def __getitem__(self, name: str) -> int:
        """The place of a row, from 0; raises KeyError where there is none."""
        row = self._row_of_text.get(name, name)
        if row in self._changed:
            noted = self._changed[row]
            if noted is None:
                raise KeyError(name)
            place, since = noted
        else:
            place, since = self._earlier[row], 0
        for start, by in self._moves[since:]:
            if place >= start:
                place += by
        return place

    def get(self, name: str, otherwise: int) -> int:
        try:
            return self[name]
        except KeyError:
            return otherwise

    def __contains__(self, name: str) -> bool:
        return self.get(name, -1) >= 0

    def __len__(self) -> int:
        """How many rows there are."""
        return len(self._earlier) + sum(by for _, by in self._moves)


def _rows_of_texts(blocks: Sequence[Block]) -> dict[str, str]:
    return {name: block.id for block in blocks for name in names_of(block)[1:]}
