"""Lists that go on in the next column."""

from __future__ import annotations

from evenquill.core.model import Role
from tests.conftest import text_blocks

ITEM = "The keeper wrote down what the gauge had shown at each tide, and the office kept what he wrote."


def test_items_in_the_next_column_are_of_the_depth_that_they_are_of_in_the_one_before(typeset, rebuilt):
    source = f'#set enum(numbering: "a)")\n#columns(2)[{ITEM} {ITEM}\n\n{chr(10).join(f"+ {ITEM}" for _ in range(14))}]'
    items = [block for block in text_blocks(rebuilt(typeset(source, paper="a4"))) if block.role is Role.LIST_ITEM]
    assert len({round(block.spots[0].box.x0, -1) for block in items}) == 2
    assert [block.level for block in items] == [0] * 14
