"""In which languages a page is to be recognised."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from evenquill.core.languages import KNOWN, LATIN, KnownLanguage, detect_language, script_of
from evenquill.core.reading.reading_data import check_languages, installed_languages

FEWEST_LETTERS = 25
"""Below this no language is told."""

CERTAIN = 0.7
"""Share of belief that another language than the usual one needs."""

SURE_OF_LINE = 0.9
"""Share of belief from which a line tells a language: some words are alike in several."""

SHARE, FEWEST_LINES = 0.2, 2
"""Share of a page's letters, and lines, from which a language is one of those that it is written in."""

USUAL = "eng"


def languages_to_try(named: Sequence[str]) -> tuple[str, ...]:
    """The languages named, or the one that a page is first tried in. Raises LanguageMissing."""
    installed = installed_languages()
    first = USUAL if USUAL in installed or not installed else installed[0]
    languages = tuple(named) or (first,)
    check_languages(languages)
    return languages


def in_other_scripts() -> tuple[str, ...]:
    """The installed languages that are written in other scripts than Latin."""
    return tuple(one.code for one in KNOWN if one.script != LATIN and one.code in installed_languages())


def languages_found(lines: Sequence[str]) -> tuple[str, ...]:
    """Codes of the installed languages of lines that were read in the usual one: what else they are written in first, then the one of
    most of them; the usual one where they do not tell.

    Text in another script is read for Latin letters too: names, units and addresses are often written in them.
    """
    (usual,) = languages_to_try(())
    text = " ".join(lines)
    installed = [one for one in KNOWN if one.code in installed_languages()]
    if len(installed) < 2 or _letters(text) < FEWEST_LETTERS:
        return (usual,)
    script = script_of(text)
    own = [one for one in installed if one.script == script] or installed
    if script == LATIN:
        return _of_lines(lines, own, usual) if len(own) > 1 else (usual,)
    # The usual one is of another script: the likeliest of this one is nearer than it, however sure.
    return (own[0] if len(own) == 1 else detect_language(text, own).language).code, usual


def _of_lines(lines: Sequence[str], among: Sequence[KnownLanguage], usual: str) -> tuple[str, ...]:
    """The languages that lines are written in, at most two: of what was read in another language, all lines together say less than
    each by itself, since those in that language speak louder."""
    letters: Counter[str] = Counter()
    count: Counter[str] = Counter()
    for line in lines:
        if _letters(line) >= FEWEST_LETTERS:
            told = detect_language(line, among)
            if told.belief >= SURE_OF_LINE:
                letters[told.language.code] += _letters(line)
                count[told.language.code] += 1
    found = [
        code
        for code, own in letters.most_common(2)
        if own >= SHARE * letters.total() and count[code] >= min(FEWEST_LINES, count.total())
    ]
    if found:
        # Fewer of the lines in the other language are told, since they were read in the usual one: it has more of the page than is seen.
        return tuple(sorted(found, key=lambda code: code == usual))
    told = detect_language(" ".join(lines), among)
    return (told.language.code if told.belief >= CERTAIN else usual,)


def _letters(text: str) -> int:
    return sum(c.isalpha() for c in text)
