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


def test_a_letter_in_a_font_of_its_own_is_no_bullet_and_is_not_lost(typeset, rebuilt):
    keys = [
        ("n", "select the next page"),
        ("p", "select the page before"),
        ("u", "go up"),
        ("g", "read the name of a page"),
    ]
    rows = ", ".join(f'[#raw("{key}")], [{what}]' for key, what in keys)
    blocks = text_blocks(rebuilt(typeset(f"= Keys\n#grid(columns: (15mm, 1fr), row-gutter: 6pt, {rows})")))
    assert [block.text.split() for block in blocks[1:]] == [[key, *what.split()] for key, what in keys]
