"""Pages as browsers print them: panels beside the text, banners, frames next to each other, rules below headings on them."""

from __future__ import annotations

import pytest

from tests.conftest import grid, tables, texts

TEXT = "The keeper wrote down what the gauge had shown at each tide, and the office kept what he wrote. "
SIDE = ("Contact", "Tide Street 4", "Stillwater", "Languages", "English", "French", "Interests", "Rowing", "Old charts")

PANEL = """#set page(margin: 0pt, width: 600pt, height: 500pt)
#place(rect(width: 600pt, height: 80pt, fill: rgb("20465a")))
#place(dx: 30pt, dy: 30pt, text(20pt, fill: white)[Ada Quell])
#place(dy: 80pt, rect(width: 200pt, height: 420pt, fill: luma(230)))
"""


def panel(side: str) -> str:
    """A page with a banner, a panel at one side with short lines and rules on it, and paragraphs at the other."""
    left, right = (0, 230) if side == "left" else (400, 30)
    source = PANEL.replace("#place(dy: 80pt", f"#place(dx: {left}pt, dy: 80pt")
    for n, line in enumerate(SIDE):
        source += f"#place(dx: {left + 20}pt, dy: {110 + 17 * n}pt, text(9pt)[{line}])\n"
        if n % 3 == 0:
            source += f"#place(dx: {left + 20}pt, dy: {122 + 17 * n}pt, line(length: 150pt))\n"
    paragraphs = "#parbreak() ".join(f"{2 * TEXT}{n}." for n in range(3))
    return f"{source}#place(dx: {right}pt, dy: 108pt, block(width: 330pt)[{paragraphs}])"


@pytest.mark.parametrize("side", ["left", "right"])
def test_what_stands_on_a_panel_is_read_apart(typeset, rebuilt, side):
    document = rebuilt(typeset(panel(side)))
    assert not tables(document)
    said = " ".join(" ".join(texts(document)).split())
    assert " ".join(SIDE) in said
    assert " ".join(f"{2 * TEXT}{n}.".strip() for n in range(3)) in said
    assert said.startswith("Ada Quell Contact" if side == "left" else "Ada Quell The keeper")


@pytest.mark.parametrize("stroke", ["0.5pt", "(top: 3pt + red, rest: 0.5pt)"])
def test_frames_next_to_each_other_are_read_one_after_the_other(typeset, rebuilt, stroke):
    """Drawn as one path, and side by side."""
    sent = f"rect(width: 60mm, stroke: {stroke})[Sent to \\ Office of the quay \\ Skerrin Road 9 \\ Ostrel]"
    bring = f"rect(width: 60mm, stroke: {stroke})[Bring to \\ Northern quay \\ Store 3, gate B \\ Stillwater]"
    source = f"#grid(columns: 2, column-gutter: 20mm, {sent}, {bring})\n\n{3 * TEXT}"
    said = " ".join(" ".join(texts(rebuilt(typeset(source)))).split())
    assert said.startswith("Sent to Office of the quay Skerrin Road 9 Ostrel Bring to Northern quay")


def test_a_shaded_column_of_a_table_is_no_panel(typeset, rebuilt):
    rows = ", ".join(f"[Gauge {n}], [{n}.40], [{n + 3}.10]" for n in range(1, 7))
    shade = "fill: (x, _) => if x == 0 { luma(225) }"
    document = rebuilt(typeset(f"#table(columns: (40mm, 40mm, 40mm), stroke: none, {shade}, {rows})"))
    said = [cell for table in tables(document) for row in grid(table) for cell in row] or " ".join(
        texts(document)
    ).split()
    assert list(said)[:3] in (["Gauge 1", "1.40", "4.10"], ["Gauge", "1", "1.40"])


def test_numbers_that_fill_their_columns_stay_in_them(typeset, rebuilt):
    head = "[Item], [Count], [Price], [Sum]"
    rows = "[Rope of hemp], [2], [18.40], [36.80], [Lamp oil], [12], [2.05], [24.60], [Float of copper], [11], [140.00], [1540.00]"
    table = f"#table(columns: (60mm, auto, auto, auto), stroke: none, inset: 2pt, align: (left, right, right, right), {head}, {rows})"
    (found,) = tables(rebuilt(typeset(f"{TEXT}\n{table}\n{TEXT}")))
    assert grid(found)[3] == ["Float of copper", "11", "140.00", "1540.00"]


def test_sums_below_a_table_with_wrapped_cells_are_a_table_of_their_own(typeset, rebuilt):
    head = "[No.], [Item], [Count], [Sum]"
    rows = "[1], [Rope of hemp, forty fathoms, in two coils, waxed \\ and dry], [2], [36.80], [2], [Lamp oil], [12], [24.60], "
    rows += "[3], [Float of copper], [1], [140.00]"
    look = "columns: (10mm, 112mm, 18mm, 20mm), align: (left + horizon, left, right + horizon, right + horizon)"
    table = f"#table({look}, stroke: none, {head}, {rows})"
    sums = "#align(right, table(columns: (64mm, 22mm), align: (left, right), stroke: none, "
    sums += "[Net], [201.40], [Duty 8 %], [16.11], [To pay], [217.51]))"
    document = rebuilt(typeset(f"#set page(margin: 25mm)\n{TEXT}\n{table}\n#v(-5mm)\n{sums}"))
    assert grid(tables(document)[-1]) == [["Net", "201.40"], ["Duty 8 %", "16.11"], ["To pay", "217.51"]]
