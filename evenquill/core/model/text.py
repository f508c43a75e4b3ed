"""Runs: pieces of text of one look inside a block."""

from __future__ import annotations

import itertools
from collections.abc import Iterable
from enum import IntFlag

import msgspec


class Marks(IntFlag):
    """Emphasis and position of a run.

    RUN_IN is for a heading that begins a paragraph. BOLD and ITALIC are differences from the paragraph's style: in a bold style, a run
    with BOLD is not bold. So text keeps its emphasis when its paragraph is given another kind.
    """

    NONE = 0
    BOLD = 1
    ITALIC = 2
    UNDERLINE = 4
    STRIKE = 8
    SUPER = 16
    SUB = 32
    RUN_IN = 64


class Run(msgspec.Struct, frozen=True, omit_defaults=True):
    """A stretch of text of one look. A tab and a line break are the characters ``\\t`` and ``\\n``.

    ``color`` is ``rrggbb`` or None for the style's own; ``link`` an address or None; ``note`` the id of
    the note block that this run is the mark of, in which case ``text`` is the mark as printed.
    """

    text: str
    marks: Marks = Marks.NONE
    color: str | None = None
    link: str | None = None
    note: str | None = None

    def like(self, text: str) -> Run:
        """The same look with another text."""
        return msgspec.structs.replace(self, text=text)

    def marked(self, marks: Marks) -> Run:
        """The same text with further marks."""
        return msgspec.structs.replace(self, marks=self.marks | marks)

    def same_look(self, other: Run) -> bool:
        return (self.marks, self.color, self.link, self.note) == (
            other.marks,
            other.color,
            other.link,
            other.note,
        )


def plain(runs: Iterable[Run]) -> str:
    """The text of the runs without their looks."""
    return "".join(run.text for run in runs)


def joined(runs: Iterable[Run]) -> tuple[Run, ...]:
    """The runs with empty ones dropped and neighbours of one look made one."""
    out: list[Run] = []
    for run in runs:
        if not run.text:
            continue
        if out and run.note is None and out[-1].same_look(run):
            out[-1] = out[-1].like(out[-1].text + run.text)
        else:
            out.append(run)
    return tuple(out)


def run_in_heading(runs: Iterable[Run]) -> str:
    """The heading that a text begins with, nothing where it has none."""
    return plain(itertools.takewhile(lambda run: Marks.RUN_IN in run.marks, runs)).strip()


def cut(runs: Iterable[Run], start: int, end: int | None = None) -> tuple[Run, ...]:
    """The runs of the characters from ``start`` up to ``end`` (to the last where None)."""
    out: list[Run] = []
    at = 0
    for run in runs:
        left = max(start - at, 0)
        right = len(run.text) if end is None else min(end - at, len(run.text))
        if left < right:
            out.append(run if right - left == len(run.text) else run.like(run.text[left:right]))
        at += len(run.text)
    return tuple(out)


def stripped(runs: Iterable[Run]) -> tuple[Run, ...]:
    """The runs without white space at either end."""
    kept = joined(runs)
    text = plain(kept)
    start = len(text) - len(text.lstrip())
    return cut(kept, start, len(text.rstrip()))


def letters_of(text: str) -> str:
    """The letters alone, without case: for titles that are compared whatever their signs and numbers."""
    return "".join(c for c in text.casefold() if c.isalpha())


def letters_and_digits_of(text: str) -> str:
    """Letters and digits alone, without case."""
    return "".join(c for c in text.casefold() if c.isalnum())


TERMINAL, CLOSING = frozenset(".!?:;…"), "\"'”’»)]"
"""Signs that end a sentence, or a part of one that may stand alone; and those that may follow them."""


def ends_sentence(text: str) -> bool:
    """Whether a text ends as a sentence does."""
    return text.rstrip(CLOSING)[-1:] in TERMINAL


HYPHENS = "-\u2010\u00ad"


def ends_broken(text: str) -> bool:
    """Whether a line ends in the middle of a word, or at a real hyphen."""
    return len(text) > 1 and text[-1] in HYPHENS and not text[-2].isspace() and text[-2] not in HYPHENS
