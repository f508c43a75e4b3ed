"""Paper for the reader of scans: pages set in type, then printed, laid askew, stamped and scanned."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
import scan_effects

from evenquill.core.evidence import PageEvidence
from evenquill.core.pictures import PictureFolder
from evenquill.core.reading.preparation import AS_FOUND, Preparation
from evenquill.core.reading.scanned.page import read_scan
from evenquill.core.reading.scanned.prepared import Scan
from evenquill.core.reading.scanned.raster import Raster

Paper = Callable[..., scan_effects.Pixels]
Read = Callable[..., PageEvidence]


@pytest.fixture
def paper(typeset) -> Paper:
    """A page of Typst source as a clean scan at 200 dots an inch, without dirt."""

    def make(source: str, dpi: float = 200, **settings) -> scan_effects.Pixels:
        return scan_effects.printed(scan_effects.drawn(typeset(source, **settings), 1, dpi), np.random.default_rng(3))

    return make


@pytest.fixture
def read_paper(pictures: PictureFolder) -> Read:
    """Evidence of a page from its pixels."""

    def read(
        pixels: scan_effects.Pixels, preparation: Preparation = AS_FOUND, *, dpi: float = 200, guessed: bool = False
    ) -> PageEvidence:
        return read_scan(Scan(Raster(pixels, dpi), guessed), 1, pictures.keep, preparation)

    return read
