"""Numbers that cannot be right: letters among digits, numbers that differ in form from their column, totals that do not add up, days
and times that there are not."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from decimal import Decimal
from typing import NamedTuple

from evenquill.core.model import Block, TableBlock
from evenquill.core.numbers import days_by_month, parsed, ways_to_write, written_like
from evenquill.core.queries.answers import MOST
from evenquill.core.queries.counted import jumps
from evenquill.core.queries.query import Kind, Query
from evenquill.core.queries.shapes import is_number, spoiled_number
from evenquill.core.queries.tokens import Token, tokens_of
from evenquill.core.queries.view import View
from evenquill.core.queries.word_query import query_on

NUMBER = Kind("number", "number in doubt", "numbers in doubt", 15)
TOTAL = Kind("total", "total that does not add up", "totals that do not add up", 16)
DATE = Kind("date", "date or time that there is not", "dates or times that there are not", 17)
KINDS = (NUMBER, TOTAL, DATE)

SPOILED, OUT_OF_FORM, WRONG_TOTAL, NO_SUCH_DAY, JUMPS = 0.9, 0.6, 0.5, 0.6, 0.9
"""Likelihoods; of rows of digits with a letter in it whatever the recogniser says, on native pages as well."""

FEWEST_ROWS, SAME_FORM = 5, 0.8
"""Rows of a column that tell its form, and share of them that must have it."""

FEWEST_SUMMED = 3

_TOTAL_ROW = re.compile(
    r"^((grand )?total|sum|summe|somme|totaal|summa|yhteensä|razem|celkem|suma)\b|^(gesamt|insgesamt)", re.IGNORECASE
)
_WRITTEN_DATE = re.compile(r"^(\d{1,2})[./-](\d{1,2})[./-](\d{4}|\d{2})$")
_TIME = re.compile(r"^(\d{1,2}):(\d{2})(:\d{2})?$")


class _Cell(NamedTuple):
    """A number alone in a cell: its row's and its column's place, and how it is written."""

    row: int
    column: int
    token: Token
    form: str


class _Table(NamedTuple):
    """The numbers of a table, how many rows it has, and what its last row is called."""

    cells: list[_Cell]
    rows: int
    last: str


def find(view: View) -> Iterator[Query]:
    for row in view.rows:
        for n, token in enumerate(row):
            if spoiled_number(token.core) is not None:
                yield query_on(token, NUMBER, SPOILED, "a letter among digits", view.answers(token))
            elif token.core[:1].isdigit():
                why = _no_such_day(token, row[n + 1].core if n + 1 < len(row) else "") or _no_such_time(token)
                if why:
                    yield query_on(token, DATE, NO_SUCH_DAY, why, ())
    for jump in jumps(view.blocks):
        for token in tokens_of(jump.text):
            yield query_on(token, NUMBER, JUMPS, f"{jump.above} stands above it and {jump.below} below", (jump.wanted,))
    for table in (*_tabbed_tables(view.rows), *_real_tables(view.blocks)):
        yield from _out_of_form(table, view)
        yield from _wrong_totals(table, view)


def _no_such_day(token: Token, after: str) -> str:
    days = days_by_month().get(after.casefold()) if after not in ("may", "march") else None
    if days and token.core.isdigit() and len(token.core) <= 2 and int(token.core) > days:
        return f"{after} has no day {int(token.core)}"
    match = _WRITTEN_DATE.match(token.core)
    if match and len(match[3]) == 4:
        first, second = int(match[1]), int(match[2])
        if min(first, second) > 12 or max(first, second) > 31 or not min(first, second):
            return "there is no such day"
    return ""


def _no_such_time(token: Token) -> str:
    match = _TIME.match(token.core)
    if match and (int(match[1]) > 24 or int(match[2]) > 59):
        return "there is no such time"
    return ""


def _real_tables(blocks: Iterable[Block]) -> Iterator[_Table]:
    for block in blocks:
        if isinstance(block, TableBlock) and not block.excluded:
            found = []
            for cell in block.cells:
                tokens = [token for text in cell.texts for token in tokens_of(text)]
                if cell.row >= block.header_rows and _is_a_number(tokens):
                    found.append(_Cell(cell.row, cell.column, tokens[0], _form(tokens[0].text)))
            last = [cell.text for cell in block.cells if cell.row == block.row_count - 1 and cell.text]
            yield _Table(found, block.row_count, last[0] if last else "")


def _tabbed_tables(rows: Sequence[list[Token]]) -> Iterator[_Table]:
    """Runs of rows that tabs part into as many columns."""
    run: list[list[Token]] = []
    for row in [*rows, []]:
        tabs = row[0].block.text.count("\t") if row else 0
        if run and (not tabs or tabs != run[-1][0].block.text.count("\t")):
            yield _Table(list(_cells(run)), len(run), run[-1][0].block.text)
            run = []
        if tabs:
            run.append(row)


def _is_a_number(tokens: Sequence[Token]) -> bool:
    return len(tokens) == 1 and any(c.isdigit() for c in tokens[0].core)


def _cells(table: Sequence[list[Token]]) -> Iterator[_Cell]:
    for n, row in enumerate(table):
        text = row[0].block.text
        by_column: dict[int, list[Token]] = {}
        for token in row:
            by_column.setdefault(text.count("\t", 0, token.start), []).append(token)
        for column, tokens in by_column.items():
            if _is_a_number(tokens):
                yield _Cell(n, column, tokens[0], _form(tokens[0].text))


def _form(text: str) -> str:
    """How a number is written: its signs, and the digits behind its last point."""
    sign = "±" if text[:1] in "+-−" else ""
    digits = text.lstrip("+-−")
    if not is_number(digits):
        return "other"
    whole, point, behind = digits.rpartition(".") if "." in digits else digits.rpartition(",")
    return f"{sign}{point}{len(behind)}" if whole else f"{sign}whole"


def _out_of_form(table: _Table, view: View) -> Iterator[Query]:
    for column in sorted({cell.column for cell in table.cells}):
        own = [cell for cell in table.cells if cell.column == column]
        form, count = Counter(cell.form for cell in own).most_common(1)[0]
        if len(own) < FEWEST_ROWS or count < SAME_FORM * len(own) or form in ("other", "whole", "±whole"):
            continue
        for cell in own:
            if cell.form != form and spoiled_number(cell.token.core) is None:
                better = _in_form(cell.token.text, form)
                possible = tuple(dict.fromkeys((*better, *view.answers(cell.token))))[:MOST]
                yield query_on(
                    cell.token, NUMBER, OUT_OF_FORM, "written otherwise than the numbers of its column", possible
                )


def _in_form(text: str, form: str) -> tuple[str, ...]:
    """The number with the point where its column has it."""
    digits = re.sub(r"\D", "", text)
    behind = int(form.lstrip("±.,") or 0)
    if not 0 < behind < len(digits):
        return ()
    point = "," if "," in form else "."
    sign = text[0] if text[:1] in "+-−" else ""
    return (f"{sign}{digits[:-behind]}{point}{digits[-behind:]}",)


def _wrong_totals(table: _Table, view: View) -> Iterator[Query]:
    if table.rows <= FEWEST_SUMMED or not _TOTAL_ROW.match(table.last):
        return
    for total in (cell for cell in table.cells if cell.row == table.rows - 1):
        column = [cell for cell in table.cells if cell.column == total.column and cell.row < total.row]
        language = total.token.block.language or view.document.language
        sums = list(_sums([cell.token.text for cell in column], total.token.text, language))
        # Which sign parts thousands and which decimals is seldom sure; if it adds up one way, that is the way.
        if len(column) < FEWEST_SUMMED or not sums or any(added == stated for _, added, stated in sums):
            continue
        locale, value, _ = sums[0]
        added = written_like(value, locale, total.token.text)
        yield query_on(total.token, TOTAL, WRONG_TOTAL, f"the rows above add up to {added}", (added,))


def _sums(rows: Sequence[str], total: str, language: str) -> Iterator[tuple[str, Decimal, Decimal]]:
    """For each way to write numbers that all of them follow: its locale, the sum of the rows, and the total."""
    for locale in ways_to_write(language):
        stated = parsed(total, locale)
        values = [parsed(text, locale) for text in rows]
        if stated is not None and all(value is not None for value in values):
            yield locale, sum((value for value in values if value is not None), Decimal()), stated
