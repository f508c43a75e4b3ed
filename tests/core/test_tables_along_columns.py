"""Tables without lines whose cells stand in the middle, or at the foot, of their rows: rows end where nothing of any column goes on."""

from __future__ import annotations

import pytest

from evenquill.core.model import TableBlock

ROWS = [
    ("Gauge", "What it shows", "Where it is kept"),
    ("Float", "The level of the water in the well of the hut, which follows the tide by some minutes.", "North Pier"),
    ("Clock", "Hours.", "In the office, on the wall behind the desk of the keeper, where he sees it."),
    ("Wire", "What the float pulls, and what the pen is held by when the paper is changed.", "With the float"),
    ("Lamp", "Nothing.", "Hut"),
    ("Pen", "The line on the paper, from one day to the next one, in ink that does not fade.", "Under the clock, dry."),
]


@pytest.mark.parametrize("place", ["top", "horizon", "bottom"])
def test_a_table_without_lines_has_its_rows_wherever_its_cells_stand(typeset, rebuilt, place):
    cells = ",".join(f"[{'*' + cell + '*' if not n else cell}]" for n, row in enumerate(ROWS) for cell in row)
    source = f"""#set page(width: 150mm, height: 200mm)
The office keeps a list of what is in the hut on the pier, and of what each of the things there is good for.
#table(columns: (22mm, 40mm, 40mm), stroke: none, inset: 5pt, align: left + {place}, {cells})
What is not in the list is not the office's."""
    (table,) = [block for block in rebuilt(typeset(source)).blocks if isinstance(block, TableBlock)]
    found = [[" ".join(text.text for text in cell.texts) for cell in table.cells if cell.row == n] for n in range(6)]
    assert found == [list(row) for row in ROWS]
