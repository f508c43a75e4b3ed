"""Picture files as sources: TIFF with one page or many, PNG, JPEG, WebP, HEIC."""

from __future__ import annotations

import contextlib
import warnings
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pillow_heif
from numpy.typing import NDArray
from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError

from evenquill.core.errors import DamagedSource, TooLarge
from evenquill.core.source.facts import SourceFacts

MOST_UNPACKED = 1_200_000_000
"""Bytes that a page may have when unpacked; beyond that it is a trap or a mistake, and no page."""

MOST_FRAMES = 5_000

LARGEST_READ = 60_000_000
"""Pixels; larger pages are scaled down while they are opened, to what a sheet of A3 has at 600 dots an inch."""

PLAUSIBLE_DPI = (45.0, 2500.0)
NOT_SQUARE = 0.02
"""Share by which the resolution across may differ from that down before pixels count as oblong."""

UNTOLD_DPI = frozenset((72, 96))
"""Resolutions that programs write who know none."""

PLAUSIBLE_SIDE = (1.5, 60.0)
"""Inches of a page's sides."""

BYTES = {"1": 1, "L": 1, "P": 1, "LA": 2, "PA": 2, "I;16": 2, "I;16B": 2, "RGB": 4, "I": 4, "F": 4}
"""Bytes for each pixel in memory by mode; four for the others."""

pillow_heif.register_heif_opener()
Image.MAX_IMAGE_PIXELS = None  # we have a limit of our own, in bytes


def examine_images(path: Path, media: str) -> SourceFacts:
    """Facts about a picture file; looks at its headers only. Raises DamagedSource or TooLarge."""
    with _opened(path) as image:
        frames = _frames(image)
        if frames > MOST_FRAMES:
            raise TooLarge(f"The file has {frames} pages; up to {MOST_FRAMES} can be taken. Split it and try again.")
        _check_size(image)
        made_by = image.getexif().get(0x0131) or image.getexif().get(0x0110) or ""
        return SourceFacts(pages=frames, producer=str(made_by).strip("\0 "), media=media)


def frame_of_image(path: Path, number: int) -> tuple[NDArray[np.uint8], float | None, bool]:
    """Page ``number`` (from 1) of a picture file, upright as its camera meant it.

    Returns pixels (height, width, 3), its resolution in pixels for each inch or None where the file does not tell, and whether
    the file is cut short, so that part of the page is missing. Raises DamagedSource or TooLarge.
    """
    with _opened(path) as image:
        try:
            image.seek(number - 1)
        except (EOFError, OSError, ValueError, SyntaxError):
            raise DamagedSource(f"Page {number} of the file is damaged and cannot be opened.") from None
        _check_size(image)
        told = _dpi(image)
        dpi = max(told) if told else None
        factor = max((image.width * image.height / LARGEST_READ) ** 0.5, 1.0)
        if factor > 1 and image.format == "JPEG":
            image.draft("RGB", (int(image.width / factor), int(image.height / factor)))
        whole = image.size
        cut_short = _load(image, number)
        if factor > 1.5:
            image = image.reduce(int(factor)) if image.width > whole[0] / int(factor) else image
        if told and abs(told[0] / told[1] - 1) > NOT_SQUARE:
            # Fax machines scan more finely across than down.
            image = image.resize(
                (round(image.width * max(told) / told[0]), round(image.height * max(told) / told[1])),
                Image.Resampling.BILINEAR if image.mode not in ("1", "P") else Image.Resampling.NEAREST,
            )
        upright = ImageOps.exif_transpose(image) or image
        pixels = _rgb(upright)
    if dpi and factor > 1:
        dpi = dpi * max(pixels.shape[:2]) / max(whole)
    return pixels, dpi, cut_short


@contextlib.contextmanager
def _opened(path: Path) -> Iterator[Image.Image]:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # odd tags in TIFF files are common and harmless
        try:
            image = Image.open(path)
        except (UnidentifiedImageError, OSError, ValueError, SyntaxError, RuntimeError):
            raise DamagedSource("The picture is damaged and cannot be opened. Ask for it to be sent again.") from None
        with image:
            yield image


def _frames(image: Image.Image) -> int:
    """Pages of the file; of a damaged directory those that can be found."""
    if image.format != "TIFF":
        return 1  # further frames of other formats are animations and thumbnails
    frames = 0
    with contextlib.suppress(EOFError, OSError, ValueError, SyntaxError, KeyError, TypeError):
        while frames <= MOST_FRAMES:
            image.seek(frames)
            frames += 1
    if frames == 0:
        raise DamagedSource("The picture is damaged: no page can be found in it. Ask for it to be sent again.")
    image.seek(0)
    return frames


def _check_size(image: Image.Image) -> None:
    unpacked = image.width * image.height * BYTES.get(image.mode, 4)
    if unpacked > MOST_UNPACKED:
        raise TooLarge(
            f"The picture has {image.width} by {image.height} pixels and would fill {unpacked / 1e9:.1f} GB when opened. "
            "Scan it again at a lower resolution."
        )


def _load(image: Image.Image, number: int) -> bool:
    """Unpacks the picture; returns whether it is cut short."""
    try:
        image.load()
    except (OSError, ValueError, SyntaxError, RuntimeError, MemoryError):
        ImageFile.LOAD_TRUNCATED_IMAGES = True
        try:
            image.load()
        except (OSError, ValueError, SyntaxError, RuntimeError, MemoryError):
            raise DamagedSource(f"Page {number} of the file is damaged and cannot be opened.") from None
        finally:
            ImageFile.LOAD_TRUNCATED_IMAGES = False
        return True
    return False


def _dpi(image: Image.Image) -> tuple[float, float] | None:
    """The resolution across and down that the file tells, if it can be that of a page."""
    told = image.info.get("dpi")
    try:
        across, down = (float(value) for value in told) if told else (0.0, 0.0)
    except (TypeError, ValueError):
        return None
    for dpi, pixels in ((across, image.width), (down, image.height)):
        if not PLAUSIBLE_DPI[0] <= dpi <= PLAUSIBLE_DPI[1] or round(dpi) in UNTOLD_DPI:
            return None
        if not PLAUSIBLE_SIDE[0] <= pixels / dpi <= PLAUSIBLE_SIDE[1]:
            return None
    return across, down


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
