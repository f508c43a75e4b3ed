"""Picture files as sources: TIFF with one page or many, PNG, JPEG, WebP, HEIC."""

from __future__ import annotations

import contextlib
import struct
import warnings
from collections.abc import Iterator
from pathlib import Path

import pillow_heif
from PIL import Image, UnidentifiedImageError

from evenquill.core.errors import DamagedSource, TooLarge
from evenquill.core.source.facts import SourceFacts

MOST_UNPACKED = 1_200_000_000
"""Bytes that a page may have when unpacked; beyond that it is a trap or a mistake, and no page."""

MOST_FRAMES = 5_000
LONGEST_NAME = 1_000

PLAUSIBLE_DPI = (45.0, 2500.0)
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
    with opened(path) as image:
        frames = _frames(image)
        if frames > MOST_FRAMES:
            raise TooLarge(f"The file has {frames} pages; up to {MOST_FRAMES} can be taken. Split it and try again.")
        check_size(image)
        return SourceFacts(pages=frames, producer=_made_by(image), media=media)


DAMAGE = (
    OSError,
    ValueError,
    SyntaxError,
    RuntimeError,
    KeyError,
    TypeError,
    IndexError,
    ZeroDivisionError,
    struct.error,
)
"""What Pillow raises at damaged headers and tags."""


def _made_by(image: Image.Image) -> str:
    """The program or camera that a picture names, empty where it names none."""
    if image.format == "PNG":
        made_by = image.info.get("Software")  # its tags stand behind the pixels, which would be unpacked
    else:
        try:
            tags = image.getexif()
            made_by = tags.get(0x0131) or tags.get(0x0110)
        except DAMAGE:
            made_by = None
    return str(made_by or "").strip("\0 ")[:LONGEST_NAME]


@contextlib.contextmanager
def opened(path: Path) -> Iterator[Image.Image]:
    """The picture file, its headers read. Raises DamagedSource."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # odd tags in TIFF files are common and harmless
        try:
            image = Image.open(path)
        except (UnidentifiedImageError, *DAMAGE):
            raise DamagedSource("The picture is damaged and cannot be opened. Ask for it to be sent again.") from None
        with image:
            yield image


def _frames(image: Image.Image) -> int:
    """Pages of the file; of a damaged directory those that can be found."""
    if image.format != "TIFF":
        return 1  # further frames of other formats are animations and thumbnails
    frames = 0
    with contextlib.suppress(EOFError, *DAMAGE):
        while frames <= MOST_FRAMES:
            image.seek(frames)
            frames += 1
    if frames == 0:
        raise DamagedSource("The picture is damaged: no page can be found in it. Ask for it to be sent again.")
    image.seek(0)
    return frames


def check_size(image: Image.Image) -> None:
    """Raises TooLarge for a picture that would not fit into memory."""
    unpacked = image.width * image.height * BYTES.get(image.mode, 4)
    if unpacked > MOST_UNPACKED:
        raise TooLarge(
            f"The picture has {image.width} by {image.height} pixels and would fill {unpacked / 1e9:.1f} GB when opened. "
            "Scan it again at a lower resolution."
        )


def stated_dpi(image: Image.Image) -> tuple[float, float] | None:
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
