"""Doubts about equations: ones that were not read surely, numbers that jump, and references to equations that are not there."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterator

from msgspec.structs import replace

from evenquill.core.edits import EditText
from evenquill.core.equations.numbers import NUMBER, references_in
from evenquill.core.equations.problem import EquationProblem
from evenquill.core.equations.tex import tex
from evenquill.core.equations.tex_reader import read_tex
from evenquill.core.model import Document, Equation, Role, Spot, TextBlock, texts_of
from evenquill.core.model.inline import plain
from evenquill.core.queries.query import Fix, Kind, Query
from evenquill.core.queries.shortened import beginning_of
from evenquill.core.queries.view import View

JUMPS = Kind("equation number", "equation number that jumps", "equation numbers that jump", 41)
MISSING = Kind(
    "equation reference", "reference to an equation that is not there", "references to equations that are not there", 42
)
READ = Kind("equation", "uncertain equation", "uncertain equations", 15)
KINDS = (READ, JUMPS, MISSING)

OUT_OF_ORDER, NOT_THERE = 0.5, 0.6
"""Likelihoods."""

ASKED = 0.03
"""Likelihood from which an equation is asked about: a wrong sign is not seen by reading over it, and equations are few."""

_NUMBER = re.compile(r"([(\[])((?:\d+\.)*)(\d+)([)\]])")


def find(view: View) -> Iterator[Query]:
    for block in view.blocks:
        for text in texts_of(block):
            if not text.excluded:
                yield from _uncertain(text)
    yield from _numbers(view)


def _uncertain(text: TextBlock) -> Iterator[Query]:
    """Equations of a text of which some symbol was not read surely, with what they are if it is another one."""
    starts = list(itertools.accumulate((len(plain((item,))) for item in text.content), initial=0))
    spots = {word.start: word for word in text.words if word.confidence < 1}
    for n, item in enumerate(text.content):
        word = spots.get(starts[n])
        if not isinstance(item, Equation) or word is None or 1 - word.confidence < ASKED:
            continue
        fixes = []
        for other in word.others:
            try:
                made = replace(item, tree=read_tex(other.text))
            except EquationProblem:
                continue
            fixes.append(Fix(other.text, EditText(text.id, (*text.content[:n], made, *text.content[n + 1 :]))))
        yield Query(
            kind=READ.name,
            page=word.page,
            text=tex(item.tree),
            likelihood=round(1 - word.confidence, 3),
            reason="a symbol may be another one" if fixes else "its symbols were not read surely",
            block=text.id,
            start=word.start,
            end=word.end,
            spots=(Spot(word.page, word.box),),
            context=beginning_of(text.text[max(word.start - 30, 0) :]),
            fixes=tuple(fixes),
            keep="it is right",
        )


def _numbers(view: View) -> Iterator[Query]:
    before = _numbers_before(view.document)
    if not before:
        return
    numbers = {equation.number for _, equation in _numbered(view.document)}
    for block in view.blocks:
        if isinstance(block, TextBlock) and block.id in before and not block.excluded:
            yield from _jump(block, before[block.id])
        for text in texts_of(block):
            if not text.excluded:
                yield from _missing(text, numbers)


def _numbered(document: Document) -> Iterator[tuple[TextBlock, Equation]]:
    """The displayed equations that have numbers, in order."""
    for block in document.blocks:
        if isinstance(block, TextBlock) and block.role is Role.EQUATION and not block.excluded:
            for item in block.content:
                if isinstance(item, Equation) and item.number:
                    yield block, item


def _numbers_before(document: Document) -> dict[str, str]:
    """By the id of each row with a numbered equation the number before, nothing for the first."""
    found: dict[str, str] = {}
    last = ""
    for block, equation in _numbered(document):
        found[block.id] = last
        last = equation.number
    return found


def _jump(block: TextBlock, before: str) -> Iterator[Query]:
    """A number that does not follow the one before: by one in the same chapter, from 1 in the next."""
    equation = next(item for item in block.content if isinstance(item, Equation))
    own, last = _NUMBER.fullmatch(equation.number), _NUMBER.fullmatch(before)
    if own is None or last is None:
        return
    expected = int(last[3]) + 1 if own[2] == last[2] else 1
    if int(own[3]) == expected:
        return
    number = f"{own[1]}{own[2]}{expected}{own[4]}"
    content = tuple(replace(item, number=number) if item is equation else item for item in block.content)
    yield Query(
        kind=JUMPS.name,
        page=block.spots[-1].page if block.spots else 0,
        text=equation.number,
        likelihood=OUT_OF_ORDER,
        reason=f"{equation.number} follows {before}",
        block=block.id,
        spots=block.spots[-1:],
        context=equation.number,
        fixes=(Fix(f"make it {number}", EditText(block.id, content)),),
        keep="it is right",
    )


def _missing(text: TextBlock, numbers: set[str]) -> Iterator[Query]:
    """References to numbers that no equation has; where the document has none of the kind, the text is of another document."""
    plain = text.text
    for reference in references_in(plain):
        if not reference.named or reference.number in numbers:
            continue
        number = NUMBER.search(plain, reference.start, reference.end)
        if number is None:  # "formula 3" may be anything
            continue
        words = [word for word in text.words if word.start < number.end() and number.start() < word.end]
        spots = tuple(Spot(word.page, word.box) for word in words)
        yield Query(
            kind=MISSING.name,
            page=spots[0].page if spots else 0,
            text=number[0],
            likelihood=NOT_THERE,
            reason=f"no equation has the number {number[0]}",
            block=text.id,
            start=number.start(),
            end=number.end(),
            spots=spots or text.spots[:1],
            context=beginning_of(plain[max(number.start() - 30, 0) :]),
            keep="it is right",
        )
