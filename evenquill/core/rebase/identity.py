"""Ids kept through rebuilding: a block of a new document that is one of the known document has its id.

Blocks are matched by their place on the source and by their text; what is new has a provisional id until it is taken into the document
(``with_new_ids``), since ids may be given to other things meanwhile.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator

from evenquill.core.model import Block, Document, TableBlock, texts_of
from evenquill.core.model.geometry import Spot
from evenquill.core.model.ids import Ids, ids_in, renamed

PROVISIONAL = "new"
"""Ids begin so until the document gives one."""

SAME_PLACE = 0.5
"""Share of the smaller of two boxes that they have in common if they are the place of one block."""


def keep_ids(fresh: Document, known: Document) -> Document:
    """The fresh document with the known one's ids for blocks, rows, cells and their texts, sections and running parts that are the same."""
    names: dict[str, str] = {}
    sections: Counter[tuple[str, str]] = Counter()
    for block, other in _matched(fresh.blocks, known.blocks):
        names[block.id] = other.id
        sections[block.section, other.section] += 1
        if isinstance(block, TableBlock) and isinstance(other, TableBlock):
            names |= _names_in_table(block, other)
    names |= _names_of_sections(fresh, known, sections)
    names |= {name: f"{PROVISIONAL}{n}" for n, name in enumerate(ids_in(fresh)) if name not in names}
    return renamed(fresh, names)


def with_new_ids(document: Document, ids: Ids) -> Document:
    """The document with ids of its own in the place of provisional ones."""
    provisional = [name for name in ids_in(document) if name.startswith(PROVISIONAL)]
    return renamed(document, {name: ids.new() for name in provisional}) if provisional else document


def _names_of_sections(fresh: Document, known: Document, shared: Counter[tuple[str, str]]) -> dict[str, str]:
    """Ids of sections: those of the known ones that they have most blocks in common with (``shared``). Running parts go by them."""
    parts, known_parts = ({section.id: section.running for section in side.sections} for side in (fresh, known))
    names: dict[str, str] = {}
    taken: set[str] = set()
    for (section, other), _ in shared.most_common():
        for own, name in ((section, other), (parts.get(section, ""), known_parts.get(other, ""))):
            if own and name and own not in names and name not in taken:
                names[own] = name
                taken.add(name)
    return names


def _matched(fresh: Iterable[Block], known: Iterable[Block]) -> Iterator[tuple[Block, Block]]:
    """Pairs of a fresh block and the known one that it is: those that say the same first, then those that stand in one place."""
    by_page: dict[int, list[Block]] = defaultdict(list)
    for block in known:
        by_page[_page(block)].append(block)
    left: list[Block] = []
    taken: set[str] = set()
    for block in fresh:
        same = [other for other in by_page[_page(block)] if other.id not in taken and _says_the_same(block, other)]
        best = max(same, key=lambda other: _overlap(block, other), default=None)
        if best is None:
            left.append(block)
        else:
            taken.add(best.id)
            yield block, best
    for block in left:
        near = [
            (share, other)
            for other in by_page[_page(block)]
            if other.id not in taken and type(other) is type(block) and (share := _overlap(block, other)) > SAME_PLACE
        ]
        if near:
            _, best = max(near, key=lambda one: one[0])
            taken.add(best.id)
            yield block, best


def _says_the_same(block: Block, other: Block) -> bool:
    if type(block) is not type(other):
        return False
    texts = [text.text for text in texts_of(block)]
    if texts != [text.text for text in texts_of(other)]:
        return False
    return bool("".join(texts)) or _overlap(block, other) > SAME_PLACE


def _page(block: Block) -> int:
    return block.spots[0].page if block.spots else 0


def _overlap(block: Block, other: Block) -> float:
    """The largest share that a place of one has in common with a place of the other; places are compared by the smaller one."""
    return max((_share(a, b) for a in block.spots for b in other.spots if a.page == b.page), default=0.0)


def _share(a: Spot, b: Spot) -> float:
    width, height = a.box.overlap_x(b.box), a.box.overlap_y(b.box)
    smaller = min(a.box.width * a.box.height, b.box.width * b.box.height)
    return width * height / smaller if width > 0 and height > 0 and smaller > 0 else 0.0


def _names_in_table(fresh: TableBlock, known: TableBlock) -> dict[str, str]:
    """Ids of rows and cells that are in the same place of the grid, if the two grids are of one shape."""
    if len(fresh.row_ids) != len(known.row_ids) or len(fresh.widths) != len(known.widths):
        return {}
    names = dict(zip(fresh.row_ids, known.row_ids, strict=True))
    places = {(cell.row, cell.column): cell for cell in known.cells}
    for cell in fresh.cells:
        other = places.get((cell.row, cell.column))
        if other is not None:
            names[cell.id] = other.id
            names |= {text.id: old.id for text, old in zip(cell.texts, other.texts, strict=False)}
    return names
