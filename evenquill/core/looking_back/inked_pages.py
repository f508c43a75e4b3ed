"""The pages of a source, and of a result, as they are looked at: drawn when they are asked for, and a few of them kept."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Collection, Iterator, Mapping

import numpy as np
import pypdfium2 as pdfium

from evenquill.core.errors import SourceError
from evenquill.core.looking_back.ink import InkedPage, inked
from evenquill.core.looking_back.looks import SCALE
from evenquill.core.strip_drawing import drawn_page
from evenquill.core.strip_types import Strip

KEPT = 40
"""Pages that are kept of each side: 3 MB each, however long a document is."""


class InkedPages(Mapping[int, InkedPage]):
    """Pages by their numbers. One that can no longer be drawn is as one that is not there."""

    def __init__(self, numbers: Collection[int], draw: Callable[[int], InkedPage]) -> None:
        self._numbers = numbers
        self._draw = draw
        self._kept: OrderedDict[int, InkedPage] = OrderedDict()

    def __getitem__(self, number: int) -> InkedPage:
        if number not in self._kept:
            if number not in self._numbers:
                raise KeyError(number)
            try:
                self._kept[number] = self._draw(number)
            except (SourceError, OSError, ValueError, pdfium.PdfiumError):
                raise KeyError(number) from None
            if len(self._kept) > KEPT:
                self._kept.popitem(last=False)
        return self._kept[number]

    def __iter__(self) -> Iterator[int]:
        return iter(self._numbers)

    def __len__(self) -> int:
        return len(self._numbers)


def source_pages(strips: Mapping[int, Strip]) -> InkedPages:
    """The pages of a source; ``strips`` say by page where each is."""

    def draw(number: int) -> InkedPage:
        image, scale = drawn_page(strips[number])
        return inked(np.ascontiguousarray(image.convert("L")), scale)

    return InkedPages(strips.keys(), draw)


def result_pages(pdf: pdfium.PdfDocument) -> InkedPages:
    """The pages of a result, which must stay open."""

    def draw(number: int) -> InkedPage:
        page = pdf[number - 1]
        try:
            return inked(np.ascontiguousarray(page.render(scale=SCALE, grayscale=True).to_numpy().squeeze()), SCALE)
        finally:
            page.close()

    return InkedPages(range(1, len(pdf) + 1), draw)
