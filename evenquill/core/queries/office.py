"""The office's own list of words, kept over documents: words that are right, and words that always stand for another."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from types import MappingProxyType
from typing import NamedTuple


class OfficeWords(NamedTuple):
    """``words`` are right as they are; ``instead`` has by wrong word the right one."""

    words: frozenset[str] = frozenset()
    instead: Mapping[str, str] = MappingProxyType({})

    def right_for(self, word: str) -> str | None:
        return self.instead.get(word)


class ListEntry(NamedTuple):
    """A word; ``instead`` is what it always stands for, empty where the word itself is right."""

    word: str
    instead: str = ""


class ReadList(NamedTuple):
    """Entries of a list as it was read, and what was wrong with it, in sentences."""

    entries: tuple[ListEntry, ...]
    problems: tuple[str, ...]


LONGEST = 80
MOST_SAID = 20


def office_words(entries: Iterable[ListEntry]) -> OfficeWords:
    """The list as it is looked words up in."""
    every = list(entries)
    return OfficeWords(
        frozenset(entry.word for entry in every if not entry.instead)
        | frozenset(entry.instead for entry in every if entry.instead),
        {entry.word: entry.instead for entry in every if entry.instead},
    )


def read_list(text: str, known: Iterable[ListEntry] = ()) -> ReadList:
    """A list from a text file: one entry a line, ``word`` or ``wrong = right``; what contradicts an earlier entry is left out and said."""
    entries: dict[str, str] = {entry.word: entry.instead for entry in known}
    fresh: dict[str, str] = {}
    problems: list[str] = []
    for number, line in enumerate(text.splitlines(), 1):
        word, equals, instead = (part.strip() for part in line.partition("="))
        if not word:
            continue
        if (
            (equals and not instead)
            or max(len(word), len(instead)) > LONGEST
            or any(c in word + instead for c in "\t\n")
        ):
            problems.append(f"Line {number} is no word: “{line[:40]}”.")
        elif word in entries and entries[word] != instead:
            said = f"stands for “{entries[word]}”" if entries[word] else "is right as it is"
            problems.append(f"Line {number} was left out: “{word}” {said} already.")
        elif instead == word or entries.get(instead):
            problems.append(f"Line {number} was left out: “{instead}” is itself listed as wrong.")
        elif word not in entries:
            entries[word] = fresh[word] = instead
    if len(problems) > MOST_SAID:
        problems = [*problems[:MOST_SAID], f"{len(problems) - MOST_SAID} more lines were left out."]
    return ReadList(tuple(ListEntry(word, instead) for word, instead in fresh.items()), tuple(problems))


def written_list(entries: Iterable[ListEntry]) -> str:
    """The list as a text file, in the form that ``read_list`` takes."""
    return "".join(f"{entry.word} = {entry.instead}\n" if entry.instead else f"{entry.word}\n" for entry in entries)
