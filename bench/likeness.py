"""How like its source a document comes out: pages of the PDF that is written, laid over those of the source.

``python bench/likeness.py FOLDER``: any PDFs in it, or a benchmark's cases; worst documents first. Likeness of two pages is their
structural similarity at 50 dots an inch (Wang, Bovik, Sheikh and Simoncelli 2004), 1 for the same; pages that only one of them has
count 0.
"""

from __future__ import annotations

import argparse
import tempfile
from pathlib import Path
from typing import NamedTuple

import cv2
import numpy as np
import pypdfium2 as pdfium
from numpy.typing import NDArray

from evenquill.core.convert import convert
from evenquill.core.errors import SourceError
from evenquill.core.reading.pages import PagePool
from evenquill.core.writers.pdf import write_pdf
from evenquill.core.writers.problem import NotWritten

DPI = 50
WINDOW = 1.5
"""Standard deviation in pixels of the window in which pages are compared."""

STEADY = (0.01 * 255) ** 2, (0.03 * 255) ** 2
"""What keeps quotients of nothing by nothing steady; the paper's own."""


class Likeness(NamedTuple):
    """Mean likeness of a document's pages, and its pages as it comes out and in the source."""

    name: str
    mean: float
    pages: int
    source_pages: int


def drawn(pdf: Path | bytes) -> list[NDArray[np.float32]]:
    """Pages in grey."""
    with pdfium.PdfDocument(pdf) as document:
        return [
            page.render(scale=DPI / 72, grayscale=True).to_numpy().squeeze().astype(np.float32) for page in document
        ]


def likeness(one: NDArray[np.float32], other: NDArray[np.float32]) -> float:
    """Structural similarity of two pages, the second brought to the size of the first."""
    other = cv2.resize(other, (one.shape[1], one.shape[0]), interpolation=cv2.INTER_AREA)

    def mean(values: NDArray[np.float32]) -> NDArray[np.float32]:
        return cv2.GaussianBlur(values, (0, 0), WINDOW)

    a, b = mean(one), mean(other)
    spread_a, spread_b, together = mean(one * one) - a * a, mean(other * other) - b * b, mean(one * other) - a * b
    small, large = STEADY
    found = (2 * a * b + small) * (2 * together + large) / ((a * a + b * b + small) * (spread_a + spread_b + large))
    return float(found.mean())


def of_document(source: Path, pool: PagePool) -> Likeness | None:
    """None where the source cannot be read or the document not be set."""
    name = source.parent.name if source.stem == "source" else source.stem
    try:
        with tempfile.TemporaryDirectory() as folder:
            made = convert(source, pool, Path(folder))
            pages = drawn(write_pdf(made.document, made.pictures.get))
    except (SourceError, NotWritten) as error:
        print(f"{name}: {error}")
        return None
    wanted = drawn(source)
    alike = [likeness(one, other) for one, other in zip(wanted, pages, strict=False)]
    return Likeness(name, sum(alike) / max(len(wanted), len(pages), 1), len(pages), len(wanted))


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", type=Path)
    parser.add_argument("--workers", type=int, default=0, help="processes; one for each core if not given")
    given = parser.parse_args()
    sources = sorted((*given.folder.glob("*.pdf"), *given.folder.glob("*/source.pdf")))
    with PagePool(given.workers) as pool:
        found = [one for source in sources if (one := of_document(source, pool)) is not None]
    for one in sorted(found, key=lambda one: one.mean):
        print(f"{one.mean:.3f}  {one.pages:3} pages of {one.source_pages:3}  {one.name}")
    if found:
        same = sum(one.pages == one.source_pages for one in found)
        print(
            f"mean {np.mean([one.mean for one in found]):.3f}; {same} of {len(found)} with as many pages as their source"
        )


if __name__ == "__main__":
    main()
