"""Places of rows after changes: the same as counted anew."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from evenquill.core.model import Cell, Document, Role, TableBlock, Text, TextBlock
from evenquill.core.model.blocks import names_of

CHANGES = st.lists(st.tuples(st.integers(0, 9), st.integers(0, 3), st.integers(0, 3), st.booleans()), max_size=90)


def row(name: str, table: bool) -> TextBlock | TableBlock:
    if not table:
        return TextBlock(name, content=(Text(name),))
    text = TextBlock(f"{name}.t", role=Role.CELL, content=(Text(name),))
    return TableBlock(name, (100.0,), (f"{name}.r",), (Cell(f"{name}.c", 0, 0, (text,)),))


@given(CHANGES)
def test_places_after_changes_are_those_counted_anew(changes):
    document = Document(blocks=tuple(row(f"b{n}", n == 3) for n in range(8)))
    gone: set[str] = set()
    for number, (start, removed, come, table) in enumerate(changes):
        at = min(start, len(document.blocks))
        old = document.blocks[at : at + removed]
        # The first of them stays, as the row does that is split.
        new = (*old[:1], *(row(f"n{number}.{n}", table) for n in range(come)))
        after = Document(blocks=(*document.blocks[:at], *new, *document.blocks[at + len(old) :]))
        document.derive_places(after, at, len(old))
        document = after
        gone.update(name for block in old[1:] for name in names_of(block))
    counted = {name: place for place, block in enumerate(document.blocks) for name in names_of(block)}
    assert {name: document.places.get(name, -1) for name in counted} == counted
    assert not any(name in document.places for name in gone)
    assert len(document.places) == len(document.blocks)
