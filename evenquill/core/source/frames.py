"""Pages of picture files as pixels."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageFile, ImageOps

from evenquill.core.errors import DamagedSource
from evenquill.core.source.images import DAMAGE, check_size, opened, stated_dpi

LARGEST_READ = 60_000_000
"""Pixels; larger pages are scaled down while they are opened, to what a sheet of A3 has at 600 dots an inch."""

NOT_SQUARE = 0.02
"""Share by which the resolution across may differ from that down before pixels count as oblong."""


def frame_of_image(path: Path, number: int) -> tuple[NDArray[np.uint8], float | None, bool]:
    """Page ``number`` (from 1) of a picture file, upright as its camera meant it.

    Returns pixels (height, width, 3), its resolution in pixels for each inch or None where the file does not tell, and whether
    the file is cut short, so that part of the page is missing. Raises DamagedSource or TooLarge.
    """
    with opened(path) as image:
        try:
            image.seek(number - 1)
        except (EOFError, *DAMAGE):
            raise DamagedSource(f"Page {number} of the file is damaged and cannot be opened.") from None
        check_size(image)
        told = stated_dpi(image)
        dpi = max(told) if told else None
        factor = max((image.width * image.height / LARGEST_READ) ** 0.5, 1.0)
        if factor > 1 and image.format == "JPEG":
            image.draft("RGB", (int(image.width / factor), int(image.height / factor)))
        whole = image.size
        cut_short = _load(image, number)
        if factor > 1.5:
            image = image.convert("L") if image.mode == "1" else image
            image = image.reduce(int(factor)) if image.width > whole[0] / int(factor) else image
        if told and abs(told[0] / told[1] - 1) > NOT_SQUARE:
            # Fax machines scan more finely across than down.
            image = image.resize(
                (round(image.width * max(told) / told[0]), round(image.height * max(told) / told[1])),
                Image.Resampling.BILINEAR if image.mode not in ("1", "P") else Image.Resampling.NEAREST,
            )
        upright = _upright(image)
        pixels = _rgb(upright)
    if dpi and factor > 1:
        dpi = dpi * max(pixels.shape[:2]) / max(whole)
    return pixels, dpi, cut_short


def _load(image: Image.Image, number: int) -> bool:
    """Unpacks the picture; returns whether it is cut short."""
    try:
        image.load()
    except (*DAMAGE, MemoryError):
        ImageFile.LOAD_TRUNCATED_IMAGES = True
        try:
            image.load()
        except (*DAMAGE, MemoryError):
            raise DamagedSource(f"Page {number} of the file is damaged and cannot be opened.") from None
        finally:
            ImageFile.LOAD_TRUNCATED_IMAGES = False
        return True
    return False


def _upright(image: Image.Image) -> Image.Image:
    """The picture as its camera meant it; as it is where its tags are damaged."""
    try:
        return ImageOps.exif_transpose(image) or image
    except DAMAGE:
        return image


def _rgb(image: Image.Image) -> NDArray[np.uint8]:
    """Any mode as red, green and blue; what is transparent becomes white paper."""
    if image.mode.startswith("I;16") or image.mode in ("I", "F"):
        values = np.asarray(image, np.float32)
        low, high = float(values.min()), float(values.max())
        top = 65535.0 if high > 255 else 255.0
        grey = np.clip((values - min(low, 0.0)) / top * 255, 0, 255).astype(np.uint8)
        return np.repeat(grey[..., None], 3, axis=2)
    if image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info:
        clear = image.convert("RGBA")
        paper = Image.new("RGBA", clear.size, "white")
        image = Image.alpha_composite(paper, clear)
    return np.asarray(image.convert("RGB"))
