"""Cells of made tables that come out where they belong: ``python bench/tables.py [DOCUMENTS]``.

Tables in six dresses (ruled, rules between rows, rules above and below, shaded by turns, without any, two columns), with headings over
several columns, cells of several lines, empty cells, and over pages, are set by the browser among running text.
"""

from __future__ import annotations

import sys
import tempfile
from collections import Counter, defaultdict
from collections.abc import Callable
from html import escape
from pathlib import Path
from random import Random
from typing import NamedTuple

from chromium import CHROMIUM, FLAGS
from playwright.sync_api import sync_playwright

from evenquill.core.convert import convert
from evenquill.core.model import TableBlock
from evenquill.core.reading.pages import PagePool

WORDS = [
    "gauge",
    "station",
    "pier",
    "harbour",
    "float",
    "wire",
    "clock",
    "drum",
    "chart",
    "level",
    "tide",
    "staff",
    "sill",
    "moor",
    "quay",
    "slip",
    "well",
    "inlet",
    "wind",
    "weather",
    "record",
    "reading",
    "correction",
    "datum",
    "bench",
    "mark",
    "winter",
    "summer",
    "observer",
    "keeper",
    "boat",
    "store",
    "paint",
    "oil",
    "lamp",
    "door",
    "key",
    "ladder",
    "rope",
    "chain",
    "plank",
    "stone",
]
PLACES = (
    "Skerrin",
    "Brannowick",
    "Ostrel Point",
    "Ferry slip",
    "North pier",
    "Middle Stairs",
    "Hollin Quay",
    "Coal berth",
)
DRESSES = {
    "ruled": "td,th{border:0.7pt solid}",
    "between rows": "tr{border-bottom:0.6pt solid #666}thead{border-top:1pt solid}",
    "above and below": "table{border-top:1pt solid;border-bottom:1pt solid}thead{border-bottom:0.5pt solid}",
    "shaded": "tbody tr:nth-child(even){background:#e8e8e8}thead{background:#ccc}",
    "nothing": "",
    "two columns": "",
}
NUMBERS: tuple[Callable[[Random], str], ...] = (
    lambda random: f"{random.uniform(0, 9):.2f}",
    lambda random: str(random.randint(1, 400)),
    lambda random: f"{random.randint(0, 23):02d}.{random.randint(0, 59):02d}",
    lambda random: f"{random.randint(1, 3000):,}.{random.randint(0, 99):02d}",
)

Placed = Counter[tuple[int, int, str]]
"""Texts of cells by the row and the column that they begin in."""


class Made(NamedTuple):
    dress: str
    html: str
    cells: Placed


def main(documents: int) -> None:
    shares: dict[str, list[float]] = defaultdict(list)
    with tempfile.TemporaryDirectory() as name, sync_playwright() as playwright, PagePool() as pool:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        page = browser.new_page()
        for seed in range(documents):
            random = Random(seed)
            tables = [_table(random) for _ in range(3)]
            page.set_content(_document(random, tables))
            path = Path(name) / f"{seed}.pdf"
            page.pdf(path=path, prefer_css_page_size=True, print_background=True)
            blocks = convert(path, pool, Path(name) / "pictures").document.blocks
            found = [_cells(block) for block in blocks if isinstance(block, TableBlock)]
            for table in tables:
                best = max(found, key=lambda one: _share(table.cells, one), default=Placed())
                shares[table.dress].append(_share(table.cells, best))
    for dress, own in shares.items():
        print(f"{dress}: {100 * sum(own) / len(own):.1f} % of the cells of {len(own)} tables")
    every = [share for own in shares.values() for share in own]
    print(f"all: {100 * sum(every) / len(every):.1f} %  (wanted: at least 97 %)")


def _share(wanted: Placed, found: Placed) -> float:
    """Cells that are in both, at their places, over the mean number of cells (F1)."""
    return 2 * (wanted & found).total() / max(wanted.total() + found.total(), 1)


def _cells(table: TableBlock) -> Placed:
    return Placed((cell.row, cell.column, cell.text.replace("\n", " ")) for cell in table.cells if cell.text)


def _some(random: Random, least: int, most: int) -> str:
    return " ".join(random.choice(WORDS) for _ in range(random.randint(least, most)))


def _table(random: Random) -> Made:
    dress = random.choice(list(DRESSES))
    columns = 2 if dress == "two columns" else random.randint(3, 7)
    wide = random.randrange(1, columns) if dress not in ("nothing", "two columns") and random.random() < 0.6 else 0
    kinds = [random.choice(NUMBERS) if n == columns - 1 or random.random() < 0.75 else None for n in range(columns)]
    rows = random.randint(45, 70) if dress == "ruled" and random.random() < 0.15 else random.randint(4, 12)
    cells = Placed()
    names = [_some(random, 1, 2).capitalize() for _ in range(columns)]
    spanned = columns >= 5 and dress != "shaded" and random.random() < 0.5
    head = _head(random, names, cells, spanned=spanned)
    body = ""
    for row in range(2 if spanned else 1, rows + 1):
        body += "<tr>"
        for column, kind in enumerate(kinds):
            if column == wide and column:
                text, look = _some(random, 3, 14), "max-width:120pt"
            elif column == 0:
                text, look = random.choice(PLACES), "white-space:nowrap"
            else:
                text = kind(random) if kind else _some(random, 1, 2)
                look = f"white-space:nowrap;text-align:{'right' if kind else 'left'}"
                text = "" if random.random() < 0.04 else text
            cells.update([(row, column, text)] if text else [])
            body += f"<td style='{look}'>{escape(text)}</td>"
        body += "</tr>"
    padding = random.choice(
        ("2pt 8pt", "2pt 12pt") if dress in ("nothing", "two columns") else ("2pt 5pt", "3pt 6pt", "4pt 9pt")
    )
    return Made(
        dress,
        f"<div class='{dress.replace(' ', '-')}'><table style='--padding:{padding}'>{head}<tbody>{body}</tbody></table></div>",
        cells,
    )


def _head(random: Random, names: list[str], cells: Placed, *, spanned: bool) -> str:
    if not spanned:
        cells.update((0, n, name) for n, name in enumerate(names))
        return "<thead><tr>" + "".join(f"<th>{escape(name)}</th>" for name in names) + "</tr></thead>"
    upper, lower = f"<th rowspan=2>{escape(names[0])}</th>", ""
    cells[0, 0, names[0]] += 1
    for column in range(1, len(names), 2):
        if column + 1 == len(names):
            upper += f"<th rowspan=2>{escape(names[column])}</th>"
            cells[0, column, names[column]] += 1
            continue
        place = random.choice(PLACES)
        upper += f"<th colspan=2>{escape(place)}</th>"
        lower += f"<th>{escape(names[column])}</th><th>{escape(names[column + 1])}</th>"
        cells.update([(0, column, place), (1, column, names[column]), (1, column + 1, names[column + 1])])
    return f"<thead><tr>{upper}</tr><tr>{lower}</tr></thead>"


def _document(random: Random, tables: list[Made]) -> str:
    family = random.choice(("Liberation Serif", "Liberation Sans", "DejaVu Serif"))
    dresses = "".join(
        rule.strip() and f".{dress.replace(' ', '-')} {part.strip()}}}"
        for dress, css in DRESSES.items()
        for rule in css.split("}")
        for part in [rule.replace(",", f",.{dress.replace(' ', '-')} ")]
    )
    text = "".join(f"<p>{_some(random, 30, 60).capitalize()}.</p>{table.html}" for table in tables)
    align = random.choice(("top", "middle"))
    return (
        f"<style>@page{{size:A4;margin:24mm}}body{{font:10.5pt/1.3 '{family}'}}"
        "table{border-collapse:collapse;font-size:9pt;margin:6pt 0}tr{break-inside:avoid}"
        f"td,th{{padding:var(--padding);vertical-align:{align}}}{dresses}</style>{text}<p>{_some(random, 30, 60).capitalize()}.</p>"
    )


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 30)
