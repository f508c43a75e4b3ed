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


COUNTED = ("Level the staff.", "Clean the well and its orifice.", "Wind the clock.", "Change the paper of the drum.")


def test_what_is_counted_right_below_each_other_is_a_list_though_no_sign_follows_the_numbers(typeset, rebuilt):
    rows = "\n".join(f"#pad(left: 7mm)[{n} {text}]" for n, text in enumerate(COUNTED, 1))
    blocks = text_blocks(
        rebuilt(typeset(f"#set block(spacing: 8pt)\nEach week the keeper has to do this:\n\n{rows}\n\nNo more."))
    )
    assert [block.role for block in blocks] == [Role.PARAGRAPH, *[Role.LIST_ITEM] * 4, Role.PARAGRAPH]
    assert tuple(block.text for block in blocks[1:5]) == COUNTED


def test_numbers_that_do_not_count_or_begin_at_the_edge_are_text(typeset, rebuilt):
    rows = "\n\n".join(("1 gauge at the north pier.", "2 gauges at the south pier."))
    years = "\n".join(f"#pad(left: 7mm)[{n} boats came in.]" for n in (1, 5, 3))
    blocks = text_blocks(rebuilt(typeset(f"#set block(spacing: 8pt)\n{rows}\n\nIn winter:\n{years}")))
    assert Role.LIST_ITEM not in {block.role for block in blocks}
