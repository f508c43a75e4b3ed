"""Sheets of single symbols, printed and scanned in many ways, cut up again as the product cuts pages up."""

from __future__ import annotations

import sys
from collections.abc import Sequence
from pathlib import Path
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw

from evenquill.core.reading.scanned.formulas.symbols import darkness, network_input
from evenquill.core.reading.scanned.ink import ink_of, pieces_of

from .classes import OF_ANY_HEIGHT, Shown
from .typefaces import Glyphs

sys.path.insert(0, str(Path(__file__).parents[2] / "demo"))
import scan_effects

COLUMNS, ROWS = 20, 20
SIZES = (5.0, 14.0)
"""Points, from the smallest scripts to symbols of headings."""

RESOLUTIONS = (150, 200, 200, 200, 250, 300, 300)
"""Dots for each inch of a sheet; as often as they are met."""

STRETCHED, NOTHING, IN_TEXT = 0.5, 0.08, 0.3
"""Shares: of what is set in any height that is stretched, of cells in which no single symbol is, of letters shown in a text typeface."""

SMALLEST_PIECE = 3
"""Pixels of ink below which a piece is dirt."""


class Samples(NamedTuple):
    """Symbols as the network sees them (n, side, side), logarithms of width over height (n,), and their classes (n,)."""

    pictures: NDArray[np.uint8]
    shapes: NDArray[np.float32]
    classes: NDArray[np.int16]


class Typefaces(NamedTuple):
    """A family: its typeface for mathematics, and those for text, upright and slanted."""

    mathematical: Glyphs
    text: tuple[Glyphs, Glyphs] | None


def sheet_of(classes: Sequence[Shown], family: Typefaces, seed: int) -> Samples:
    """The symbols of one sheet."""
    random = np.random.default_rng(seed)
    dpi = int(random.choice(RESOLUTIONS))
    em = max(round(float(random.uniform(*SIZES)) * dpi / 72 * 2), 12)  # in pixels, at twice the resolution
    cell = round(2.2 * em)
    page = Image.new("L", (COLUMNS * cell, ROWS * cell), 255)
    draw = ImageDraw.Draw(page)
    numbers = np.full((ROWS, COLUMNS), -1, np.int16)
    for row in range(ROWS):
        for column in range(COLUMNS):
            at = (column + 0.5) * cell, (row + 0.5) * cell
            if random.random() < NOTHING:
                numbers[row, column] = _draw_nothing(page, draw, classes, family, em, at, random)
            else:
                number = int(random.integers(0, len(classes) - 1))
                if _draw(page, draw, classes[number], family, em, at, random):
                    numbers[row, column] = number
    return _cut_up(_scanned(np.asarray(page), random), numbers, cell / 2)


def _draw(
    page: Image.Image, draw: ImageDraw.ImageDraw, shown: Shown, family: Typefaces, em: int, at: tuple[float, float],
    random: np.random.Generator,
) -> bool:  # fmt: skip
    glyphs, character = family.mathematical, ""
    if shown.in_text and family.text and random.random() < IN_TEXT:
        glyphs, character = family.text[shown.slanted], shown.in_text
    else:
        options = [one for one in shown.characters if one in glyphs.characters]
        character = options[int(random.integers(0, len(options)))] if options else ""
    if not character or character not in glyphs.characters:
        return False
    if shown.text in OF_ANY_HEIGHT and random.random() < STRETCHED:
        _paste(page, _stretched(glyphs, character, em, float(random.uniform(1.2, 4.5)), cell=2.1 * em), at)
        return True
    jitter = random.uniform(-1, 1, 2)
    draw.text((at[0] + jitter[0], at[1] + jitter[1]), character, font=glyphs.at(em), fill=0, anchor="mm")
    return True


def _stretched(glyphs: Glyphs, character: str, em: int, times: float, cell: float) -> Image.Image:
    """A symbol so many times as high, hardly broader: fences around tall things."""
    font = glyphs.at(max(round(em * times * min(1.0, cell / (em * times * 1.3))), 8))
    left, top, right, bottom = font.getbbox(character)
    whole = Image.new("L", (int(right - left) + 2, int(bottom - top) + 2), 255)
    ImageDraw.Draw(whole).text((1 - left, 1 - top), character, font=font, fill=0)
    return whole.resize((max(round(whole.width / times**0.6), 3), whole.height), Image.Resampling.LANCZOS)


def _paste(page: Image.Image, symbol: Image.Image, at: tuple[float, float]) -> None:
    page.paste(symbol, (round(at[0] - symbol.width / 2), round(at[1] - symbol.height / 2)))


def _draw_nothing(
    page: Image.Image, draw: ImageDraw.ImageDraw, classes: Sequence[Shown], family: Typefaces, em: int, at: tuple[float, float],
    random: np.random.Generator,
) -> int:  # fmt: skip
    """Two symbols that touch, or a part of a broad one."""
    font = family.mathematical.at(round(em * 0.7))
    known = [
        one.characters[0]
        for one in classes[:-1]
        if one.characters and one.characters[0] in family.mathematical.characters
    ]
    pair = "".join(known[int(n)] for n in random.integers(0, len(known), 2))
    draw.text((at[0], at[1]), pair, font=font, fill=0, anchor="mm")
    if random.random() < 0.5:
        # Joined by a blot where they come closest.
        middle = at[0] + font.getlength(pair[0]) - font.getlength(pair) / 2
        draw.line((middle - em * 0.12, at[1], middle + em * 0.12, at[1]), fill=0, width=max(round(em * 0.06), 2))
    return len(classes) - 1


def _scanned(page: NDArray[np.uint8], random: np.random.Generator) -> NDArray[np.uint8]:
    """The sheet at its resolution, as a scanner, a copier or a telephone sees it."""
    grey = page.astype(np.float32)
    spread = random.random()
    if spread < 0.2:
        grey = cv2.erode(grey, np.ones((2, 2), np.uint8))
    elif spread < 0.35:
        grey = cv2.dilate(grey, np.ones((2, 2), np.uint8))
    size = page.shape[1] // 2, page.shape[0] // 2
    small = cv2.resize(grey, size, interpolation=cv2.INTER_AREA)
    # Laid askew and made straight again: what is left of that is a shift by parts of a pixel, and softer edges.
    turn = cv2.getRotationMatrix2D((size[0] / 2, size[1] / 2), float(random.uniform(-0.15, 0.15)), 1)
    turn[:, 2] += random.uniform(-0.5, 0.5, 2)
    small = cv2.warpAffine(small, turn, size, flags=cv2.INTER_LINEAR, borderValue=255)
    colour = np.repeat(np.clip(small, 0, 255).astype(np.uint8)[..., None], 3, axis=2)
    inked = scan_effects.printed(colour, random, ink=int(random.integers(0, 90)))
    out = scan_effects.scanned(
        inked, random, blur=float(random.uniform(0.3, 1.3)), noise=float(random.uniform(1, 10)), specks=0
    )[..., 0]
    if random.random() < 0.7:
        quality = [cv2.IMWRITE_JPEG_QUALITY, int(random.integers(40, 92))]
        out = cv2.imdecode(cv2.imencode(".jpg", out, quality)[1], cv2.IMREAD_GRAYSCALE)
    if random.random() < 0.15:
        out = np.where(out < random.uniform(100, 170), 0, 255).astype(np.uint8)
    paper = np.percentile(out, 90)
    return np.clip(out.astype(np.float32) * (255.0 / paper), 0, 255).astype(np.uint8)


def _cut_up(even: NDArray[np.uint8], numbers: NDArray[np.int16], cell: float) -> Samples:
    pieces = pieces_of(ink_of(even, 200))
    boxes = pieces.boxes
    x, y = (boxes[:, 0] + boxes[:, 2]) / 2, (boxes[:, 1] + boxes[:, 3]) / 2
    owners = np.clip((y / cell).astype(int), 0, ROWS - 1) * COLUMNS + np.clip((x / cell).astype(int), 0, COLUMNS - 1)
    owners[(pieces.areas < SMALLEST_PIECE) | (pieces.heights > 1.2 * cell) | (pieces.widths > 1.2 * cell)] = -1
    pictures, shapes, classes = [], [], []
    for owner in np.unique(owners[owners >= 0]):
        number = numbers[owner // COLUMNS, owner % COLUMNS]
        if number < 0:
            continue
        own = np.flatnonzero(owners == owner)
        x0, y0 = boxes[own, :2].min(axis=0)
        x1, y1 = boxes[own, 2:].max(axis=0)
        mask = pieces.mask_of(own, x0, y0, x1, y1)
        picture, shape = network_input(darkness(even[y0:y1, x0:x1], mask))
        pictures.append(np.round(picture * 255).astype(np.uint8))
        shapes.append(shape)
        classes.append(number)
    return Samples(np.stack(pictures), np.array(shapes, np.float32), np.array(classes, np.int16))
