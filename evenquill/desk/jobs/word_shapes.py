"""The looks of a document's words, taken in the background: without them there are no look-alikes, and nothing else is amiss."""

from __future__ import annotations

from contextlib import closing
from pathlib import Path

import cv2
import numpy as np

from evenquill.core.model import Box
from evenquill.core.pictures import PictureFolder
from evenquill.core.queries.look_alikes import PageShapes, shapes_of, words_by_page
from evenquill.desk.jobs.held_job import HeldJob
from evenquill.store import pages, proofs, shapes
from evenquill.store.database import connect
from evenquill.store.jobs import JobKind

PAGES_AT_ONCE = 8


def take_word_shapes(held: HeldJob) -> None:
    """Takes the shapes of the words of all pages that have none, or those of an earlier reading."""
    store, document = held.store, held.document
    taken = shapes.readings(store, document)
    current = pages.readings(store, document)
    missing = [page for page, reading in sorted(current.items()) if taken.get(page) != reading]
    for start in range(0, len(missing), PAGES_AT_ONCE):
        some = missing[start : start + PAGES_AT_ONCE]
        found = held.run(shapes_of_pages, held.data, document, some)
        with held.committing():
            for page, own in found.items():
                if pages.readings(store, document, [page]).get(page) == current[page]:
                    shapes.add(store, document, page, current[page], own)
    with held.committing():
        held.end(then=JobKind.LOOK_BACK)


def shapes_of_pages(data: str, document: str, numbers: list[int]) -> dict[int, PageShapes]:
    """In a worker: the shapes of the words of some pages; pages that were not read from a picture have none."""
    out: dict[int, PageShapes] = {}
    pictures = PictureFolder(Path(data) / "pictures")
    with closing(connect(Path(data))) as store:
        words = words_by_page(proofs.read(store, document))
        for page in numbers:
            head = pages.head(store, document, page)
            if head.cleaned is None or page not in words:
                continue
            boxes: list[Box] = [word.box for word in words[page]]
            coded = np.frombuffer(pictures.path(head.cleaned.picture).read_bytes(), np.uint8)
            grey = cv2.imdecode(coded, cv2.IMREAD_GRAYSCALE)
            if grey is not None:
                out[page] = shapes_of(np.asarray(grey, np.uint8), grey.shape[1] / head.width * 72, boxes)
    return out
