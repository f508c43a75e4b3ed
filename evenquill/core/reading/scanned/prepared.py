"""A scan made ready for the recogniser: straight, the right way up, level, taken apart, its languages found."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

import numpy as np
from msgspec.structs import replace

from evenquill.core.reading.preparation import AS_FOUND, Preparation
from evenquill.core.reading.scanned.cleaning.curl import curl_of, uncurled
from evenquill.core.reading.scanned.cleaning.straighten import Straight, resized, straightened, upside_down
from evenquill.core.reading.scanned.languages import languages_found, languages_to_try
from evenquill.core.reading.scanned.raster import Matrix, Raster, without_empty_colour
from evenquill.core.reading.scanned.recognition import Sample, sample_again, sample_of
from evenquill.core.reading.scanned.scripts import UNLIKE, languages_of_sample
from evenquill.core.reading.scanned.segments import Segments, segment_page
from evenquill.core.reading.scanned.words import NOISE

LOWEST_DPI, HIGHEST_DPI = 150.0, 300.0
"""Resolutions between which pages are read; pictures beyond are scaled."""

SURE = 0.8
"""Confidence of sampled lines from which the page is surely the right way up."""


class Scan(NamedTuple):
    """A page as it came; ``guessed_size`` says that its file does not tell how large it is."""

    raster: Raster
    guessed_size: bool = False


class PreparedPage(NamedTuple):
    """A page ready to be recognised. ``to_input`` takes its pixels to those of the page as it came.

    ``sample`` is what was read of it on the way, as far as it still holds.
    """

    straight: Straight
    segments: Segments
    languages: tuple[str, ...]
    curled: bool
    to_input: Matrix
    sample: Sample


def prepared(scan: Scan, preparation: Preparation = AS_FOUND) -> PreparedPage:
    """All that is done to a page before it is recognised. Raises LanguageMissing for a language without data."""
    first = languages_to_try(preparation.languages)
    came = Raster(without_empty_colour(scan.raster.pixels), scan.raster.dpi)
    raster, to_input = resized(came, LOWEST_DPI, HIGHEST_DPI)
    upright = straightened(raster, preparation, guessed_size=scan.guessed_size)
    other_scripts = not preparation.languages
    way = _way(upright, preparation, first, other_scripts=other_scripts)
    if preparation.turn is None and way.sample.confidence < SURE and way.segments.black.lines:
        other_scripts &= way.sample.confidence < UNLIKE
        for straight in _other_ways(raster, upright, preparation, guessed_size=scan.guessed_size):
            other_way = _way(straight, preparation, first, other_scripts=other_scripts)
            if other_way.sample.confidence >= NOISE and other_way.sample.sense > way.sample.sense:
                way = other_way
            if way.sample.confidence >= SURE:
                break
    straight, segments, languages, sample = way
    level = _level(straight, segments, preparation)
    if level is not None:
        straight = straight._replace(raster=level)
        segments = apart(level, preparation)
        sample = Sample()  # read of other pixels
    return PreparedPage(
        straight, segments, languages, level is not None, np.asarray(to_input @ straight.matrix), sample
    )


class _Way(NamedTuple):
    """A page one way round, the languages that it makes most sense in, and what is read of it in these."""

    straight: Straight
    segments: Segments
    languages: tuple[str, ...]
    sample: Sample


def _way(straight: Straight, preparation: Preparation, first: tuple[str, ...], *, other_scripts: bool) -> _Way:
    """A page one way round, its languages found where they are not named; it is tried in the ``first`` ones."""
    segments = apart(straight.raster, preparation)
    sample = sample_of(segments, first)
    if not preparation.languages:
        languages = languages_of_sample(segments, sample) if other_scripts else languages_found(sample.telling)
        if languages != first:
            again = sample_again(segments, sample, languages)
            if again.sense > sample.sense:
                return _Way(straight, segments, languages, again)
    return _Way(straight, segments, first, sample)


def apart(raster: Raster, preparation: Preparation) -> Segments:
    """The parts of a straight page, cleaned as the preparation says."""
    return segment_page(raster, even_light=preparation.even_light, despeckle=preparation.despeckle)


def _level(straight: Straight, segments: Segments, preparation: Preparation) -> Raster | None:
    """The page with its swinging lines made level; None where they are."""
    if not preparation.straighten:
        return None
    raster = straight.raster
    curl = curl_of(segments.black.lines, segments.black.pieces, raster.width, raster.height)
    return Raster(uncurled(raster.pixels, curl), raster.dpi) if curl is not None else None


def _other_ways(
    raster: Raster, straight: Straight, preparation: Preparation, *, guessed_size: bool
) -> Iterator[Straight]:
    """The page upside down, then on its sides: lines that few letters make can be mistaken for columns of letters."""
    yield upside_down(straight)
    for quarters in (1, 3):
        turn = (straight.turn + quarters) % 4 * 90
        yield straightened(raster, replace(preparation, turn=turn), guessed_size=guessed_size)
