"""Which line of a page belongs to which part of the truth: by its letters, as near as possible behind the line before."""

from __future__ import annotations

import json
import re
import unicodedata
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import NamedTuple

from rapidfuzz import fuzz

SHORTEST = 4
"""Letters from which a line is looked for anywhere; shorter ones must follow where they are expected."""

ANCHOR, ALIKE = 6, 80
"""Letters by which a misread line is found, and how alike (of 100) it must be to what stands there."""

LONGEST = 120
"""Characters from which a row holds text, and nothing that runs."""

LIKE_ONE = frozenset("ilıt")
"""What a one that stands by itself is read as."""

MISREAD = 85
"""How alike (of 100) what runs at head or foot is to what was read of it."""

BACKWARDS = 3.0
"""How much further away a place before the expected one counts."""


class Label(NamedTuple):
    """Where a line belongs: the place of its block, the kind of that, the letters of the truth that it holds, and whether a line feed
    stands before it there. ``cell`` tells cells of a table apart."""

    block: int
    role: str
    start: int
    end: int
    after_break: bool
    cell: int = 0


@dataclass(frozen=True)
class Piece:
    """A text of the truth, with what its lines are: ``text`` may have line feeds."""

    role: str
    text: str
    block: int
    cell: int = 0
    row: int = 0
    header: bool = False


def letters(text: str) -> str:
    """Letters and digits alone, without accents and case."""
    return "".join(c for c in unicodedata.normalize("NFKD", text).casefold() if c.isalnum())


class Truth:
    """The pieces of a document as one string of letters; ``misread`` if its lines are those of a scan."""

    def __init__(self, pieces: Iterable[Piece], running: Iterable[str] = (), *, misread: bool = False) -> None:
        self.misread = misread
        self.pieces: list[Piece] = []
        self.starts: list[int] = []
        self.breaks: set[int] = set()
        joined: list[str] = []
        length = 0
        for piece in pieces:
            self.pieces.append(piece)
            self.starts.append(length)
            for n, part in enumerate(piece.text.split("\n")):
                own = letters(part)
                if n:
                    self.breaks.add(length)
                joined.append(own)
                length += len(own)
        self.text = "".join(joined)
        self.owner = [
            n
            for n, start in enumerate(self.starts)
            for _ in range(start, self.starts[n + 1] if n + 1 < len(self.starts) else length)
        ]
        self.running = {_masked(text) for text in running if _masked(text)}
        self.cursor = 0
        self.seen: set[str] = set()

    def label(self, text: str, *, at_edge: bool = False) -> Label | None:
        """The label of the next line in reading order, None where nothing fits; ``at_edge`` lines may be running heads."""
        own = letters(text)
        if not own:
            return None
        if at_edge and self.runs(text) and not (self.is_heading(text) and own not in self.seen):
            return Label(-1, "running", 0, 0, False)
        place = self._find(own)
        if place is None:
            rest = text.split(maxsplit=1)
            mark = letters(rest[0])
            if len(rest) == 2 and len(mark) <= 4:
                own = letters(rest[1])
                place = self._find(own) if own else None
        if place is None:
            place = self._find_alike(own)
        if place is None:
            return None
        self.cursor = place + len(own)
        self.seen.add(own)
        piece = self.pieces[self.owner[place]]
        return Label(piece.block, piece.role, place, place + len(own), place in self.breaks, piece.cell)

    def row_of_cell(self, label: Label) -> int:
        """The row of its table that a label's cell begins in."""
        return self.pieces[self.owner[label.start]].row

    def is_header(self, label: Label) -> bool:
        return self.pieces[self.owner[label.start]].header

    def is_heading(self, text: str) -> bool:
        """Whether a text is that of a heading."""
        own = letters(text)
        return any(piece.role == "heading" and letters(piece.text) == own for piece in self.pieces)

    def holds(self, text: str) -> bool:
        """Whether a text of more than a few letters is part of the truth itself."""
        own = letters(text)
        return len(own) > 8 and own in self.text and _masked(text) not in self.running

    def runs(self, text: str) -> bool:
        """Whether a row holds what runs at head or foot."""
        masked = _masked(text)
        if masked in self.running:
            return True
        if self.misread and self._runs_misread(masked):
            return True
        if len(masked) >= LONGEST:
            return False
        return any(
            len(other) > 3 and (other in masked or (self.misread and fuzz.ratio(other, masked, score_cutoff=MISREAD)))
            for other in self.running
        )

    def _runs_misread(self, masked: str) -> bool:
        """Whether a misread row says, signs aside, what runs, or holds it."""
        own, others = _as_misread(masked), {_as_misread(other) for other in self.running}
        return own in others or (len(masked) < LONGEST and any(len(other) > 3 and other in own for other in others))

    def _find(self, own: str) -> int | None:
        if self.text.startswith(own, self.cursor):
            return self.cursor
        best, distance = None, float("inf")
        roles = set()
        place = self.text.find(own)
        count = 0
        while place >= 0 and count < 200:
            roles.add(self.pieces[self.owner[place]].role)
            far = place - self.cursor if place >= self.cursor else BACKWARDS * (self.cursor - place)
            if far < distance:
                best, distance = place, far
            place = self.text.find(own, place + 1)
            count += 1
        if best is None or (len(own) < SHORTEST and distance > 60):
            return None
        # What is said in several places is known only if it is the same in all of them.
        return best if len(roles) == 1 else None

    def _find_alike(self, own: str) -> int | None:
        """Where a text stands of which some letters were misread, told by its first or last ones."""
        if len(own) < 2 * ANCHOR:
            return None
        for anchor, before in ((own[:ANCHOR], 0), (own[-ANCHOR:], len(own) - ANCHOR)):
            place = self._find(anchor)
            if place is not None and place >= before:
                start = place - before
                if fuzz.ratio(own, self.text[start : start + len(own)]) >= ALIKE:
                    return start
        return None


def _masked(text: str) -> str:
    """Letters and digits, numbers as one sign."""
    folded = re.sub("[‐-―−]", "-", unicodedata.normalize("NFKC", text).casefold())
    return re.sub(r"\d+|\{n\}", "#", folded).replace(" ", "").replace("\t", "")


def _as_misread(masked: str) -> str:
    """Letters and numbers alone, as dashes and points are lost, or come from dirt; what may be a one by itself is a number."""
    bare = re.sub(r"[^\w#]", "", masked)
    return "#" if bare in LIKE_ONE else bare


def truth_of(case: Path) -> Truth:
    """The truth of a document of the corpus."""
    data = json.loads((case / "expected.json").read_text())
    return Truth(
        pieces_of(data["blocks"]),
        [*data["furniture"].get("header", ()), *data["furniture"].get("footer", ())],
        misread=data["kind"] != "native",
    )


def pieces_of(blocks: Sequence[dict]) -> list[Piece]:
    out = []
    for n, block in enumerate(blocks):
        if block["type"] == "table":
            cells = [(r, cell) for r, row in enumerate(block["rows"]) for cell in row]
            out += [Piece("cell", cell["text"], n, k, r, bool(cell.get("header"))) for k, (r, cell) in enumerate(cells)]
        elif block["type"] != "figure":
            out.append(Piece(block.get("part", block["type"]), block.get("text", ""), n))
    return out
