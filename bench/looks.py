"""How well what looks otherwise in the result is seen, on results that are damaged on purpose.

``python bench/looks.py FOLDER [--fit]``: converts the sources in it (``*/source.pdf``, ``*.pdf``), looks back at each result as it is, and
at one with its damages: bold taken away and put on, marks of items taken away, columns of a table exchanged, pictures and signs
dropped. Prints per kind how many were asked about, and how many other doubts there were a page. ``--fit`` prints the logistic functions of
``core/looking_back/likelihoods.py`` that these results come to.
"""

from __future__ import annotations

import argparse
import random
import tempfile
import time
from collections import Counter, defaultdict
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

import numpy as np
from msgspec.structs import replace

from evenquill.core.convert import source_pages_of
from evenquill.core.errors import SourceError
from evenquill.core.looking_back import LookDoubt, LookKind
from evenquill.core.looking_back.look_back import look_back
from evenquill.core.looking_back.looks import ASKED, SCALE
from evenquill.core.model import Block, Box, Document, Marks, PictureBlock, Role, Spot, TableBlock, Text, TextBlock
from evenquill.core.model.geometry import union
from evenquill.core.model.inline import cut, joined
from evenquill.core.pictures import PictureFolder
from evenquill.core.reading.jobs import in_order, page_jobs
from evenquill.core.reading.pages import PagePool
from evenquill.core.rebuild_files import SourceFile, rebuild_files
from evenquill.core.strip_types import Strip
from evenquill.core.word_files import examine_file
from evenquill.core.writers.problem import NotWritten

PENALTY = 0.002
"""Weight of the square of the factor, which keeps it finite where all faults are larger than all else."""


class Damage(NamedTuple):
    """What was done to a document, and where: a doubt of one of these kinds there has seen it."""

    name: str
    kinds: frozenset[LookKind]
    page: int
    box: Box


class Converted(NamedTuple):
    """A source as it was read: its document, where its pictures are, and where its pages are."""

    document: Document
    pictures: PictureFolder
    pages: dict[int, Strip]


def converted(source: Path, pool: PagePool, folder: Path) -> Converted:
    """Raises SourceError."""
    kept = PictureFolder(folder)
    file = SourceFile(source, examine_file(source, copy=folder / "copy.pdf", pictures=folder))
    read = in_order(pool.read(page_jobs(source_pages_of([file]), folder)))
    strips = {
        page.number: Strip(str(kept.path(page.cleaned.picture)), None, 1, None, SCALE, page.width)
        if page.cleaned is not None
        else Strip(file.facts.read_instead or str(source), None, page.number, None, SCALE, turn=page.turn)
        for page in read
    }
    return Converted(rebuild_files(read, [file], file.facts, kept), kept, strips)


def damaged(document: Document, chance: random.Random) -> tuple[Document, list[Damage]]:
    """The document with one damage of each sort that it has something for."""
    blocks, damages = list(document.blocks), []
    for make in (without_bold, with_bold, without_mark, without_picture, without_sign, with_columns_exchanged):
        places = list(range(len(blocks)))
        chance.shuffle(places)
        for at in places:
            block = blocks[at]
            touched = any(
                d.page == s.page and d.box.overlap_y(s.box) > 0 and d.box.overlap_x(s.box) > 0
                for d in damages
                for s in block.spots
            )
            if touched or block.excluded or (made := make(document, block)) is None:
                continue
            changed, damage = made
            blocks[at : at + 1] = [changed] if changed is not None else []
            damages.append(damage)
            break
    return replace(document, blocks=tuple(blocks)), damages


Damaged = tuple[Block | None, Damage]


def _phrases(document: Document, block: Block) -> Iterator[tuple[TextBlock, int, int, bool]]:
    """Stretches of a row of text: where they begin and end, and whether they are bold."""
    if isinstance(block, TextBlock):
        at = 0
        style = document.style(block.style)
        for item in block.content:
            end = at + len(item.text)
            if isinstance(item, Text):
                yield block, at, end, (Marks.BOLD in item.marks) != style.bold
            at = end


def _place(block: TextBlock, start: int, end: int) -> Spot | None:
    words = [word for word in block.words if word.start >= start and word.end <= end]
    own = [word.box for word in words if word.page == words[0].page] if words else []
    return Spot(words[0].page, union(own)) if own else None


def _turned(document: Document, block: Block, *, bold: bool) -> Damaged | None:
    for text, start, end, is_bold in _phrases(document, block):
        words = [word for word in text.words if start <= word.start and word.end <= end]
        if is_bold is not bold or not words:
            continue
        if not bold:
            words = words[len(words) // 3 : len(words) // 3 + 3]
            start, end = words[0].start, words[-1].end
        said = text.text[start:end]
        spot = _place(text, start, end)
        if spot is None or sum(c.isalpha() for c in said) < 6:
            continue
        middle = tuple(replace(item, marks=item.marks ^ Marks.BOLD) for item in cut(text.content, start, end))
        content = joined((*cut(text.content, 0, start), *middle, *cut(text.content, end)))
        kind = LookKind.BOLDER if bold else LookKind.LIGHTER
        return replace(text, content=content), Damage("bold lost" if bold else "bold put on", frozenset({kind}), *spot)
    return None


def without_bold(document: Document, block: Block) -> Damaged | None:
    return _turned(document, block, bold=True)


def with_bold(document: Document, block: Block) -> Damaged | None:
    return _turned(document, block, bold=False)


def without_mark(document: Document, block: Block) -> Damaged | None:
    if not isinstance(block, TextBlock) or block.role is not Role.LIST_ITEM or not block.spots or not block.words:
        return None
    changed = replace(block, role=Role.PARAGRAPH, numbering=None, level=0)
    return changed, Damage("mark lost", frozenset({LookKind.MARK, LookKind.MISSING, LookKind.SIGN}), *block.spots[0])


def without_picture(document: Document, block: Block) -> Damaged | None:
    if not isinstance(block, PictureBlock) or not block.spots or block.spots[0].box.width < 15:
        return None
    return None, Damage("picture lost", frozenset({LookKind.MISSING}), *block.spots[0])


def without_sign(document: Document, block: Block) -> Damaged | None:
    if not isinstance(block, TextBlock):
        return None
    for word in block.words:
        said = block.text[word.start : word.end]
        if said and not any(c.isalnum() for c in said) and word.start > 0:
            content = joined((*cut(block.content, 0, word.start), *cut(block.content, word.end)))
            gone = word.end - word.start
            words = tuple(
                one if one.end <= word.start else one._replace(start=one.start - gone, end=one.end - gone)
                for one in block.words
                if one is not word
            )
            damage = Damage("sign lost", frozenset({LookKind.SIGN}), word.page, word.box)
            return replace(block, content=content, words=words), damage
    return None


def with_columns_exchanged(document: Document, block: Block) -> Damaged | None:
    if not isinstance(block, TableBlock) or len(block.widths) < 3 or any(cell.columns > 1 for cell in block.cells):
        return None
    if block.row_count < 3 or not block.spots:
        return None
    last = len(block.widths) - 1
    by_place = {(cell.row, cell.column): cell for cell in block.cells}
    moved = {0: last, last: 0}
    cells = tuple(
        replace(cell, texts=by_place[cell.row, moved.get(cell.column, cell.column)].texts)
        if (cell.row, moved.get(cell.column, cell.column)) in by_place
        else cell
        for cell in block.cells
    )
    return replace(block, cells=cells), Damage("column shifted", frozenset({LookKind.PLACE}), *block.spots[0])


def _name(source: Path) -> str:
    return source.parent.name if source.stem == "source" else source.stem


def sees(doubt: LookDoubt, damage: Damage) -> bool:
    there = doubt.page == damage.page and doubt.box.overlap_x(damage.box) > -3 and doubt.box.overlap_y(damage.box) > -3
    return there and doubt.kind in damage.kinds


def fitted(samples: list[tuple[float, bool]]) -> tuple[float, float]:
    """A logistic function by gradient descent, with a small penalty on its factor: constant and factor."""
    x = np.array([measure for measure, _ in samples])
    y = np.array([wrong for _, wrong in samples], float)
    scale = max(float(x.std()), 1e-6)
    weight = 1 / len(samples)
    a = b = 0.0
    for _ in range(20_000):
        error = (1 / (1 + np.exp(-(a + b * x / scale))) - y) * weight
        a -= 0.5 * float(error.sum())
        b -= 0.5 * (float((error * x / scale).sum()) + PENALTY * b)
    return round(a, 2), round(b / scale, 3)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", type=Path)
    parser.add_argument("--fit", action="store_true")
    parser.add_argument("--most", type=int, default=60)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--show", action="store_true")
    given = parser.parse_args()
    sources = sorted((*given.folder.glob("*.pdf"), *given.folder.glob("*/source.pdf")))
    chance = random.Random(given.seed)
    chance.shuffle(sources)
    made, caught = Counter(), Counter()
    others: Counter[LookKind] = Counter()
    samples: dict[LookKind, list[tuple[float, bool]]] = defaultdict(list)
    pages = 0
    seconds = 0.0
    with PagePool() as pool:
        for source in sources[: given.most]:
            try:
                with tempfile.TemporaryDirectory() as folder:
                    conversion = converted(source, pool, Path(folder))
                    seen = conversion.pages
                    start = time.perf_counter()
                    plain = look_back(conversion.document, seen, conversion.pictures.get, least=0.0)
                    seconds += time.perf_counter() - start
                    document, damages = damaged(conversion.document, chance)
                    doubts = [
                        one
                        for found in look_back(document, seen, conversion.pictures.get, least=0.0).doubts.values()
                        for one in found
                    ]
            except (SourceError, NotWritten) as error:
                print(f"{source}: {error}")
                continue
            pages += len(seen)
            for found in plain.doubts.values():
                for doubt in found:
                    samples[doubt.kind].append((doubt.measure, False))
                    if doubt.likelihood >= ASKED:
                        others[doubt.kind] += 1
                        if given.show:
                            print(f"  other {_name(source)} {doubt}")
            for damage in damages:
                own = [doubt for doubt in doubts if sees(doubt, damage)]
                for doubt in own[:1]:
                    samples[doubt.kind].append((max(one.measure for one in own), True))
                made[damage.name] += 1
                caught[damage.name] += any(doubt.likelihood >= ASKED for doubt in own)
                if given.show and not any(doubt.likelihood >= ASKED for doubt in own):
                    print(f"  missed {_name(source)} {damage} {own}")
    for name, count in made.items():
        print(f"{name:16} {caught[name]:4} of {count:4}  {100 * caught[name] / count:.0f} %")
    total = sum(made.values())
    print(f"all              {sum(caught.values()):4} of {total:4}  {100 * sum(caught.values()) / max(total, 1):.0f} %")
    a_page = sum(others.values()) / max(pages, 1)
    said = ", ".join(f"{kind} {count}" for kind, count in others.items())
    print(f"others: {said}; {a_page:.2f} a page of {pages}; {1000 * seconds / max(pages, 1):.0f} ms a page")
    if given.fit:
        for kind, own in samples.items():
            print(kind, fitted(own), len(own), sum(wrong for _, wrong in own))


if __name__ == "__main__":
    main()
