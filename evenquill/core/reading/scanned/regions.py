"""Lines of text in a region of a straight page."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from evenquill.core.evidence import Line, PageEvidence
from evenquill.core.model import Box
from evenquill.core.reading.preparation import Preparation
from evenquill.core.reading.scanned.formulas.other_readings import FormulaReading
from evenquill.core.reading.scanned.page import formula_of_scan, lines_of_scan
from evenquill.core.reading.scanned.prepared import Scan
from evenquill.core.reading.scanned.raster import Raster

MARGIN = 5.0
"""Points around a region that are looked at with it."""

FRAME = 12.0
"""Points of paper that are put around what is read as a formula."""

SMALLEST = 4
"""Pixels of a side below which there is nothing to read."""


class ReadRegion(NamedTuple):
    """What was found in a region, as evidence of a page of its size, and where its upper left corner is on the whole page, in points."""

    evidence: PageEvidence
    x: float
    y: float


def lines_in_region(page: Scan, box: Box, preparation: Preparation, number: int = 0) -> ReadRegion | None:
    """The lines in a region (in points) of a straight page, None where it is too small. Raises LanguageMissing."""
    unit = page.raster.dpi / 72
    height, width = page.raster.pixels.shape[:2]
    x0, y0 = int(max((box.x0 - MARGIN) * unit, 0)), int(max((box.y0 - MARGIN) * unit, 0))
    x1, y1 = int(min((box.x1 + MARGIN) * unit, width)), int(min((box.y1 + MARGIN) * unit, height))
    if x1 - x0 < SMALLEST or y1 - y0 < SMALLEST:
        return None
    part = Raster(np.ascontiguousarray(page.raster.pixels[y0:y1, x0:x1]), page.raster.dpi)
    lines, types = lines_of_scan(part, preparation)
    # A line that only reaches in from above or below is a neighbour's.
    inside = tuple(line for line in lines if MARGIN * 0.4 < line.box.center_y < (y1 - y0) / unit - MARGIN * 0.4)
    evidence = PageEvidence(number, (x1 - x0) / unit, (y1 - y0) / unit, types=tuple(types), lines=inside)
    return ReadRegion(evidence, x0 / unit, y0 / unit)


def formula_in_region(page: Scan, box: Box, preparation: Preparation, size: float = 0.0) -> FormulaReading | None:
    """The formula in a region (in points) of a straight page, whose text has a ``size`` (in points, 0 for unknown); None where none can be
    read. Raises LanguageMissing."""
    unit = page.raster.dpi / 72
    height, width = page.raster.pixels.shape[:2]
    x0, y0, x1, y1 = (round(value * unit) for value in box)
    part = page.raster.pixels[max(y0, 0) : min(y1, height), max(x0, 0) : min(x1, width)]
    if min(part.shape[:2]) < SMALLEST:
        return None
    # Paper around it: what touches the edge of a picture is taken for the edge of a scan.
    paper = int(np.percentile(part, 95))
    around = round(FRAME * unit)
    sides = [(around, around), (around, around), (0, 0)][: part.ndim]
    framed = np.pad(part, sides, constant_values=paper)
    return formula_of_scan(Raster(np.ascontiguousarray(framed), page.raster.dpi), preparation, size)


def text_in_region(page: Scan, box: Box, preparation: Preparation) -> str:
    """The text of a region that is one line, as it is read from left to right."""
    found = lines_in_region(page, box, preparation)
    lines: list[Line] = sorted(found.evidence.lines, key=lambda line: line.box.x0) if found else []
    return " ".join(line.text for line in lines)
