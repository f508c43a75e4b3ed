"""Words of open documents by their looks: shapes are taken in the background, page by page, and kept."""

from __future__ import annotations

import logging
import threading
from collections import OrderedDict
from pathlib import Path
from typing import TYPE_CHECKING

import cv2
import numpy as np

from evenquill.core.pictures import PictureFolder
from evenquill.core.queries.look_alikes import LookAlikes, WordPlace, shapes_of, words_by_page
from evenquill.store import pages, proofs, shapes
from evenquill.store.database import connect, transaction

if TYPE_CHECKING:
    from evenquill.desk.house import House

OPEN_DOCUMENTS = 3

log = logging.getLogger(__name__)


class OpenLookAlikes:
    """Look-alikes of the last few documents that were worked on."""

    def __init__(self, house: House) -> None:
        self._house = house
        self._open: OrderedDict[str, tuple[tuple[int, int], LookAlikes]] = OrderedDict()
        self._lock = threading.Lock()

    def of(self, document: str, block: str, start: int) -> list[WordPlace]:
        """The words that look like the one at a place; none while their shapes have not been taken."""
        revision, proof = self._house.proofs.read(document)
        state = (revision, len(shapes.readings(self._house.store, document)))
        with self._lock:
            known = self._open.get(document)
            if known is None or known[0] != state:
                words = [word for own in words_by_page(proof).values() for word in own]
                known = self._open[document] = (state, LookAlikes(words, shapes.every(self._house.store, document)))
            self._open.move_to_end(document)
            while len(self._open) > OPEN_DOCUMENTS:
                self._open.popitem(last=False)
        return known[1].of(block, start)


def take_shapes(data: str, document: str) -> None:
    """In a worker: takes the shapes of the words of all pages that have none, or those of an earlier reading."""
    store = connect(Path(data))
    pictures = PictureFolder(Path(data) / "pictures")
    try:
        taken = shapes.readings(store, document)
        words = words_by_page(proofs.read(store, document))
        current = pages.readings(store, document, words)
        for page, own in words.items():
            if taken.get(page) == current.get(page, 0):
                continue
            evidence = pages.one(store, document, page)
            if evidence.cleaned is None:
                continue
            coded = np.frombuffer(pictures.path(evidence.cleaned.picture).read_bytes(), np.uint8)
            grey = cv2.imdecode(coded, cv2.IMREAD_GRAYSCALE)
            if grey is None:
                continue
            dpi = grey.shape[1] / evidence.width * 72
            found = shapes_of(np.asarray(grey, np.uint8), dpi, [word.box for word in own])
            with transaction(store):
                shapes.add(store, document, page, current.get(page, 0), found)
    finally:
        store.close()
