"""The recogniser: Tesseract, fed with pictures of lines.

Lines found on the page by their letters (``textlines``) and freed of everything that is not theirs are read better, and
faster, than whole pages.
"""

from __future__ import annotations

import math
import os
from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import Any

import cv2
import numpy as np

os.environ.setdefault("OMP_THREAD_LIMIT", "1")  # pages run in parallel; threads within one page only get in their way

import tesserocr

from evenquill.core.reading.reading_data import data_folder
from evenquill.core.reading.scanned.raster import WHITE, Pixels, scaled
from evenquill.core.reading.scanned.words import ReadWord, Symbol

MARGIN, PLAIN_MARGIN = 0.45, (0.2, 0.5)
"""X-heights of paper left around a line in which the recogniser looks for parts; at the ends of one in which it does not, and above
and below that."""

CHOICE_ROUNDS = "2"
"""Rounds in which the recogniser looks for other readings; its own five find half as many again and take longer."""

OTHER_WITHIN = 25.0
"""Cost beyond the best reading of a character up to which another reading is kept."""

COST_SCALE = 8.0
"""Costs are turned into shares by exp(-cost / COST_SCALE)."""

SPELLED: Mapping[str, Mapping[int, int | str | None]] = {
    "ron": str.maketrans("şţŞŢ", "șțȘȚ"),
    "ell": str.maketrans("µ", "μ"),
}
"""By language what its data spell otherwise than it does: cedillas for commas below (ISO 8859-16), the micro sign for mu."""


@lru_cache(maxsize=5)
def _engine(languages: str) -> Any:
    engine = tesserocr.PyTessBaseAPI(path=data_folder(), lang=languages, oem=tesserocr.OEM.LSTM_ONLY)
    engine.SetVariable("lstm_choice_mode", "2")
    engine.SetVariable("lstm_choice_iterations", CHOICE_ROUNDS)
    engine.SetVariable(
        "invert_threshold", "0"
    )  # lines are dark on light already: none need be tried the other way round
    return engine


def read_line(
    picture: Pixels, x_height: float, languages: Sequence[str], reading_x_height: float, *, plain: bool
) -> list[ReadWord]:
    """Words in a grey picture of one line, whose small letters are ``x_height`` pixels high and are brought to another height.

    ``plain`` is a line of text without wide gaps: the recogniser need not look for its parts. Ends are roughly where they are, in
    pixels of the picture as given. The languages must be installed (``check_languages``).
    """
    factor = reading_x_height / max(x_height, 1.0)
    margin, above = (round(share * reading_x_height) for share in (PLAIN_MARGIN if plain else (MARGIN, MARGIN)))
    ready = cv2.copyMakeBorder(
        scaled(picture, factor), above, above, margin, margin, cv2.BORDER_CONSTANT, value=[WHITE, WHITE, WHITE]
    )
    ready = np.ascontiguousarray(ready)
    engine = _engine("+".join(languages))
    engine.SetPageSegMode(tesserocr.PSM.RAW_LINE if plain else tesserocr.PSM.SINGLE_LINE)
    engine.SetImageBytes(ready.tobytes(), ready.shape[1], ready.shape[0], 1, ready.shape[1])
    engine.Recognize()
    words = _words(engine.GetIterator(), factor, margin)
    for language in languages:
        words = [_spelled(word, SPELLED[language]) if language in SPELLED else word for word in words]
    return words


def _spelled(word: ReadWord, spelling: Mapping[int, int | str | None]) -> ReadWord:
    symbols = (
        symbol._replace(
            text=symbol.text.translate(spelling),
            others=tuple((text.translate(spelling), share) for text, share in symbol.others),
        )
        for symbol in word.symbols
    )
    return word._replace(symbols=tuple(symbols))


def _words(iterator: Any, factor: float, margin: int) -> list[ReadWord]:
    words: list[ReadWord] = []
    if iterator is None:
        return words
    level, symbol_level = tesserocr.RIL.WORD, tesserocr.RIL.SYMBOL
    symbols: list[Symbol] = []
    costs: list[list[tuple[str, float]]] = []
    confidence = 0.0
    while True:
        try:
            text = iterator.GetUTF8Text(symbol_level)
        except RuntimeError:
            break  # nothing was recognised
        if iterator.IsAtBeginningOf(level):
            if symbols:
                words.append(ReadWord(_with_others(symbols, costs), confidence))
            symbols = []
            confidence = iterator.Confidence(level) / 100
            costs = iterator.GetBestLSTMSymbolChoices() or []
        box = iterator.BoundingBoxInternal(symbol_level)
        if text and not text.isspace() and box is not None:
            x0, x1 = (box[0] - margin) / factor, (box[2] - margin) / factor
            symbols.append(Symbol(text, x0, x1, iterator.Confidence(symbol_level) / 100))
        if not iterator.Next(symbol_level):
            break
    if symbols:
        words.append(ReadWord(_with_others(symbols, costs), confidence))
    return words


def _with_others(symbols: list[Symbol], costs: list[list[tuple[str, float]]]) -> tuple[Symbol, ...]:
    """The symbols with the recogniser's other readings; the choices of a word may begin with that of its space."""
    if costs and costs[0] and costs[0][0][0] == " ":
        costs = costs[1:]
    if len(costs) != len(symbols):
        return tuple(symbols)
    out = []
    for symbol, choices in zip(symbols, costs, strict=True):
        best = min((cost for text, cost in choices if text == symbol.text), default=None)
        if best is None:
            out.append(symbol)
            continue
        others = [
            (text, round(math.exp(-max(cost - best, 0.0) / COST_SCALE), 3))
            for text, cost in choices
            if text != symbol.text and cost - best < OTHER_WITHIN
        ]
        out.append(symbol._replace(others=tuple(sorted(others, key=lambda other: -other[1])[:3])))
    return tuple(out)
