"""Pictures of single symbols -> what they may be: a small convolutional network, trained by ``bench/symbols``."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from pathlib import Path
from typing import NamedTuple

import cv2
import msgspec
import numpy as np
from numpy.typing import NDArray

from evenquill.core.equations.signs import NARY, OPERATIONS, RELATIONS
from evenquill.core.model.equation import Letterform
from evenquill.core.reading.scanned.raster import Pixels

FITTED = Path(__file__).parents[3] / "fitted"
NETWORK, CARD = FITTED / "symbols.onnx", FITTED / "symbols.json"

SIDE, MARGIN = 32, 2
"""Pixels of the picture that the network looks at, and of paper around the ink in it."""

THINNEST = 0.18
"""Width over height, or height over width, to which thin symbols are broadened, so that something of them is to be seen."""

BATCH = 512
"""Pictures handed to the network at once, at most."""

NOTHING = ""
"""The text of the class for ink that is no symbol: parts of one, several that touch."""


TEXT_FORMS = (Letterform.UPRIGHT, Letterform.ITALIC, Letterform.BOLD)
"""Forms of letters that text has, too."""

MATHEMATICAL = (NARY | RELATIONS | OPERATIONS | frozenset("√∂∇∞∅∀∃{}")) - frozenset(":/∗·-†")
"""Signs that only mathematics has."""


class SymbolClass(NamedTuple):
    """What a symbol may be. ``top`` and ``bottom`` are where its ink ends, in ems above the baseline, and ``width`` is how broad it is, in
    the middle of typefaces; ``fixed`` is False for what is set in any height: fences, bars, large operators."""

    text: str
    form: Letterform
    top: float
    bottom: float
    width: float
    fixed: bool = True

    @property
    def height(self) -> float:
        return self.top - self.bottom


class Card(msgspec.Struct, frozen=True):
    """What is known of the network: its classes in the order of its outputs, its training and its figures."""

    classes: list[SymbolClass]
    temperature: float
    data: str
    seed: int
    figures: dict[str, float]


class Choice(NamedTuple):
    """A class by its place on the card, and how likely it is (0 to 1)."""

    number: int
    likelihood: float


@cache
def card() -> Card:
    """The card of the network that ships."""
    return msgspec.json.decode(CARD.read_bytes(), type=Card)


@cache
def number_of(text: str, form: Letterform = Letterform.UPRIGHT) -> int:
    """The place on the card of the class of a symbol. Raises StopIteration for a symbol that is none of them."""
    return next(n for n, one in enumerate(card().classes) if (one.text, one.form) == (text, form))


def is_mathematical(is_a: SymbolClass) -> bool:
    """Whether only mathematics has a symbol; stops, dashes and strokes are in all texts."""
    of_text = is_a.text.isascii() and is_a.text.isalnum() and is_a.form in TEXT_FORMS
    return (is_a.text.isalpha() and not of_text) or is_a.text in MATHEMATICAL


@cache
def _network() -> cv2.dnn.Net:
    return cv2.dnn.readNetFromONNX(str(NETWORK))


def network_input(ink: NDArray[np.float32]) -> tuple[NDArray[np.float32], float]:
    """What the network sees of a symbol: its darkness (0 to 1, its box without paper around) brought to one size, and the logarithm
    of its width over its height."""
    height, width = ink.shape
    room = SIDE - 2 * MARGIN
    scale = room / max(height, width)
    tall, wide = (max(round(side * scale), round(THINNEST * room)) for side in (height, width))
    shrinks = tall < height or wide < width
    small = cv2.resize(ink, (wide, tall), interpolation=cv2.INTER_AREA if shrinks else cv2.INTER_LINEAR)
    out = np.zeros((SIDE, SIDE), np.float32)
    y, x = (SIDE - tall) // 2, (SIDE - wide) // 2
    out[y : y + tall, x : x + wide] = small / max(float(small.max()), 0.1)
    return out, float(np.log(width / height))


def darkness(even: Pixels, own: Pixels) -> NDArray[np.float32]:
    """Darkness (0 to 1) of an evenly lit picture where a symbol's own ink (1, else 0) or its blurred edge is."""
    near = cv2.dilate(own, np.ones((3, 3), np.uint8)) > 0
    return np.asarray(np.where(near, (255.0 - even.astype(np.float32)) / 255.0, 0.0), np.float32)


def likelihoods(inks: Sequence[NDArray[np.float32]]) -> NDArray[np.float32]:
    """How likely each class is for each symbol (n, classes)."""
    if not inks:
        return np.zeros((0, len(card().classes)), np.float32)
    seen = [network_input(ink) for ink in inks]
    pictures = np.stack([picture for picture, _ in seen])[:, None]
    return likelihoods_of_inputs(pictures, np.array([[shape] for _, shape in seen], np.float32))


def likelihoods_of_inputs(pictures: NDArray[np.float32], shapes: NDArray[np.float32]) -> NDArray[np.float32]:
    """How likely each class is for each of the network's inputs: pictures (n, 1, side, side), shapes (n, 1)."""
    starts = range(0, len(pictures), BATCH)
    return np.concatenate([_run(pictures[start : start + BATCH], shapes[start : start + BATCH]) for start in starts])


def _run(pictures: NDArray[np.float32], shapes: NDArray[np.float32]) -> NDArray[np.float32]:
    network = _network()
    network.setInput(pictures, "picture")
    network.setInput(shapes, "shape")
    scores = np.asarray(network.forward(), np.float32) / card().temperature
    scores = np.exp(scores - scores.max(axis=1, keepdims=True))
    return np.asarray(scores / scores.sum(axis=1, keepdims=True), np.float32)
