"""Tables of made documents: goods, accounts, timetables, texts."""

from __future__ import annotations

from typing import TYPE_CHECKING

from .parts import Cell, Table

if TYPE_CHECKING:
    from .draw import Draw

STYLES = ("comma", "point", "thin", "plain")


def _header(d: Draw, texts: list[str], numeric: list[bool]) -> tuple[Cell, ...]:
    follow = d.chance(0.6)
    return tuple(Cell(text, header=True, right=number and follow) for text, number in zip(texts, numeric, strict=True))


def _two_row_header(d: Draw, columns: int, numeric: list[bool]) -> list[tuple[Cell, ...]]:
    """A header whose first row joins columns."""
    first: list[Cell] = [Cell(d.writer.label(), rows=2, header=True)]
    second: list[Cell] = []
    at = 1
    while at < columns:
        wide = min(d.rng.choice((1, 2, 2, 3)), columns - at)
        if wide == 1:
            first.append(Cell(d.writer.label(), rows=2, header=True, right=numeric[at]))
        else:
            first.append(Cell(d.writer.label(), columns=wide, header=True))
            second += [Cell(d.writer.word(), header=True, right=numeric[at + k]) for k in range(wide)]
        at += wide
    if not second:
        return [tuple(Cell(cell.text, header=True, right=cell.right) for cell in first)]
    return [tuple(first), tuple(second)]


def goods(d: Draw, groups: bool = False) -> Table:
    """Articles with numbers, quantities and prices."""
    style, w = d.rng.choice(STYLES), d.writer
    with_number, with_total = d.chance(0.4), d.chance(0.6)
    numeric = ([False] if with_number else []) + [False, True, True] + ([True] if with_total else [])
    rows = [_header(d, [w.label() for _ in numeric], numeric)]
    group_rows = []
    wrapped = d.chance(0.3)
    for n in range(d.rng.randint(2, 16)):
        if groups and n % 4 == 0:
            group_rows.append(len(rows))
            rows.append((Cell(w.phrase(1, 3), columns=len(numeric), bold=d.chance(0.7)),))
        cells = [Cell(str(d.rng.randint(100, 9999)))] if with_number else []
        cells.append(Cell(w.phrase(6, 14) if wrapped and d.chance(0.4) else w.phrase(1, 4)))
        cells += [Cell(str(d.rng.randint(1, 400)), right=True), Cell(w.amount(style), right=True)]
        if with_total:
            cells.append(Cell(w.amount(style), right=True))
        rows.append(tuple(cells))
    totals = []
    if d.chance(0.4):
        totals.append(len(rows))
        rows.append(
            (*(Cell("") for _ in numeric[2:]), Cell(w.label(), bold=True), Cell(w.amount(style), right=True, bold=True))
        )
    shares = ([0.12] if with_number else []) + [0.5, 0.12, 0.18] + ([0.18] if with_total else [])
    return Table(tuple(rows), tuple(shares), 1, tuple(group_rows), tuple(totals), d.table_caption(), d.chance(0.7))


def account(d: Draw, rows: int, header: bool = True) -> Table:
    """Lines with sums for one to six columns, group rows and totals among them."""
    style, w = d.rng.choice(STYLES), d.writer
    columns = d.rng.randint(2, 6) if header else 2
    numeric = [False] + [True] * (columns - 1)
    head = []
    if header:
        two = columns > 3 and d.chance(0.35)
        head = (
            _two_row_header(d, columns, numeric)
            if two
            else [
                _header(
                    d,
                    [
                        w.label(),
                        *(str(2000 + d.rng.randint(0, 26)) if d.chance(0.5) else w.word() for _ in numeric[1:]),
                    ],
                    numeric,
                )
            ]
        )
    out, groups, totals = list(head), [], []
    grouped = header and d.chance(0.45)
    for n in range(rows):
        if grouped and n % 5 == 0:
            groups.append(len(out))
            if d.chance(0.5):
                out.append((Cell(w.phrase(1, 3), columns=columns, bold=True),))
            else:
                out.append((Cell(w.phrase(1, 2), bold=True), *(Cell("") for _ in numeric[1:])))
        empty = d.rng.choice(("", "–", "-", "0"))
        minus = d.rng.choice(("−", "-", ""))
        sums = [
            Cell(empty if d.chance(0.07) else (minus if d.chance(0.1) else "") + w.amount(style), right=True)
            for _ in numeric[1:]
        ]
        out.append((Cell(w.phrase(1, 5)), *sums))
        if grouped and n % 5 == 4:
            totals.append(len(out))
            out.append(
                (Cell(w.label(), bold=True), *(Cell(w.amount(style), right=True, bold=True) for _ in numeric[1:]))
            )
    shares = (0.45, *(0.55 / (columns - 1) for _ in numeric[1:]))
    return Table(
        tuple(out), shares, len(head), tuple(groups), tuple(totals), d.table_caption() if header else "", d.chance(0.6)
    )


def timetable(d: Draw) -> Table:
    """Names and times."""
    columns = d.rng.randint(4, 8)
    numeric = [False] + [True] * (columns - 1)
    rows = [_header(d, [d.writer.label(), *(str(d.rng.randint(100, 999)) for _ in numeric[1:])], numeric)]
    minute = d.rng.randint(240, 400)
    sign = d.rng.choice((":", ".", "."))
    for _ in range(d.rng.randint(5, 20)):
        minute += d.rng.randint(3, 17)
        times = [minute + 60 * k for k in range(columns - 1)]
        rows.append(
            (
                Cell(d.writer.place()),
                *(
                    Cell(
                        f"{t // 60 % 24}{sign}{t % 60:02}" if not d.chance(0.06) else d.rng.choice(("", "|", "–")),
                        right=True,
                    )
                    for t in times
                ),
            )
        )
    return Table(tuple(rows), (0.3, *(0.7 / (columns - 1) for _ in numeric[1:])), 1, caption=d.table_caption())


def text_table(d: Draw) -> Table:
    """Columns of text, whose cells wrap."""
    columns = d.rng.randint(2, 4)
    rows = [_header(d, [d.writer.label() for _ in range(columns)], [False] * columns)]
    for _ in range(d.rng.randint(2, 8)):
        rows.append(
            (
                Cell(d.writer.phrase(1, 3)),
                *(
                    Cell(d.writer.paragraph(1, 1) if d.chance(0.6) else d.writer.phrase(2, 6))
                    for _ in range(columns - 1)
                ),
            )
        )
    return Table(tuple(rows), (0.2, *(0.8 / (columns - 1) for _ in range(columns - 1))), 1, caption=d.table_caption())


def list_of_remarks(d: Draw) -> Table:
    """A mark, remarks that wrap, and often a number for each, in a part of the width."""
    style, w = d.rng.choice(STYLES), d.writer
    numbered, beside = d.chance(0.5), d.chance(0.25)
    numeric = [False] * (2 + beside) + [True] * numbered
    rows = [_header(d, [w.word() for _ in numeric], numeric)] if d.chance(0.75) else []
    header, kind = len(rows), d.rng.randrange(4)
    for n in range(d.rng.randint(2, 8)):
        mark = (chr(65 + n), str(n + 1), w.word(), w.phrase(1, 3))[kind]
        texts = [w.phrase(4, 18) for _ in range(1 + beside)]
        rows.append((Cell(mark), *map(Cell, texts), *([Cell(w.amount(style), right=True)] if numbered else [])))
    first, last = d.rng.uniform(0.12, 0.3), 0.2 * numbered
    shares = (first, *((1 - first - last) / (1 + beside) for _ in range(1 + beside)), *((last,) if numbered else ()))
    return Table(tuple(rows), shares, header, width=d.rng.uniform(0.4, 1.0))


def mixed_table(d: Draw) -> Table:
    """Columns of names, numbers, words and texts that wrap, beside one another."""
    style, w = d.rng.choice(STYLES), d.writer
    kinds = ["name", *(d.rng.choice(("number", "number", "words", "text")) for _ in range(d.rng.randint(1, 5)))]
    shares = [{"name": 1.2, "number": 0.8, "words": 1.2, "text": 2.2}[kind] for kind in kinds]
    numeric = [kind == "number" for kind in kinds]
    two_rows, lower = len(kinds) > 3 and d.chance(0.25), d.chance(0.35)
    labels = [w.label() if d.chance(0.5) else w.word() for _ in kinds]
    rows = _two_row_header(d, len(kinds), numeric) if two_rows else [_header(d, labels, numeric)]
    header = len(rows)

    def cell(kind: str) -> Cell:
        if kind != "name" and d.chance(0.05):
            return Cell("", right=kind == "number")
        if kind == "number":
            return Cell(w.amount(style) if d.chance(0.6) else str(d.rng.randint(1, 400)), right=True)
        said = w.place() if kind == "name" else w.phrase(*((1, 2) if kind == "words" else (3, 12)))
        return Cell(said[:1].lower() + said[1:] if lower and kind != "name" else said)

    rows += [tuple(map(cell, kinds)) for _ in range(d.rng.randint(3, 14))]
    width = d.rng.uniform(0.5, 1.0) if len(kinds) < 5 else 1.0
    shares = [share / sum(shares) for share in shares]
    return Table(tuple(rows), tuple(shares), header, caption=d.table_caption(), width=width)


def plain_table(d: Draw, narrow: bool = False) -> Table:
    """A small table of words and numbers."""
    style, columns = d.rng.choice(STYLES), d.rng.randint(2, 3 if narrow else 6)
    numeric = [False] + [d.chance(0.6) for _ in range(columns - 1)]
    header = d.chance(0.9)
    rows = (
        [_header(d, [d.writer.label() if not narrow else d.writer.word() for _ in numeric], numeric)] if header else []
    )
    for _ in range(d.rng.randint(2, 8)):
        rows.append(
            tuple(
                Cell(d.writer.amount(style), right=True) if number else Cell(d.writer.phrase(1, 3))
                for number in numeric
            )
        )
    return Table(
        tuple(rows),
        tuple(1 / columns for _ in numeric),
        len(rows) and int(header),
        caption=d.table_caption(),
        full=narrow or d.chance(0.6),
    )
