"""Lines in another script than the one that a page was read in: what was read of them makes little sense."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.languages import short_code
from evenquill.core.reading.plausibility import known_letters
from evenquill.core.reading.scanned.languages import FEWEST_LETTERS, in_other_scripts, languages_found
from evenquill.core.reading.scanned.recognition import Sample, recognised, sample_among
from evenquill.core.reading.scanned.segments import Segments
from evenquill.core.reading.scanned.words import ReadLine

UNLIKE = 0.6
"""Confidence of lines below which they may be in another script; Cyrillic ones read as Latin reach 0.4."""

KNOWN_SHARE = 0.2
"""Share of letters in words that the language has, from which a line is written in it: letters that look alike make no words."""


def in_another_script(segments: Segments, lines: Sequence[ReadLine]) -> Sample:
    """Of the page's ``lines`` those that make more sense in another script, read in it; nothing if there are too few to tell."""
    unlike = {
        id(line.line): line
        for line in lines
        if line.confidence < UNLIKE and not line.line.sign and not line.line.raised
    }
    if sum(len(line.line.pieces) for line in unlike.values()) < FEWEST_LETTERS:
        return Sample()
    found, known_of_found = Sample(), 0.0
    for language in in_other_scripts():
        read = sample_among(segments, [line.line for line in unlike.values()], (language,), most=len(unlike))
        better = Sample(tuple(one for one in read.lines if one.sense > unlike[id(one.line)].sense))
        if (
            sum(len(word) for word in better.text.split() if len(word) > 1) >= FEWEST_LETTERS
            and better.confidence >= UNLIKE
        ):
            known = known_letters(better.text, short_code(language))
            if known > max(known_of_found, KNOWN_SHARE * sum(map(str.isalpha, better.text))):
                found, known_of_found = better, known
    return found


def languages_of_sample(segments: Segments, sample: Sample) -> tuple[str, ...]:
    """The languages that a page is written in, by lines of it that were read in the usual one, also those in another script."""
    return languages_found(in_another_script(segments, sample.lines).telling or sample.telling)


def with_other_scripts(
    segments: Segments, lines: list[ReadLine], languages: tuple[str, ...]
) -> tuple[list[ReadLine], tuple[str, ...]]:
    """The lines of the page's black ink, those in another script read anew in its language too, and the languages of all."""
    other = in_another_script(segments, lines).telling
    every = tuple(dict.fromkeys((*languages_found(other), *languages))) if other else languages
    if every == languages:
        return lines, languages
    # Lines of raised signs that nothing is read in are given back to others: which, depends on the languages.
    again = {id(two.line): two for two in recognised(segments, segments.black, every)}
    # What makes sense stays: with more letters to choose from, those that look alike are mistaken for one another.
    return [
        two
        if one.confidence < UNLIKE and (two := again.get(id(one.line))) is not None and two.sense > one.sense
        else one
        for one in lines
    ], every
