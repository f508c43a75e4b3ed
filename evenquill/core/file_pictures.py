"""Pictures in word-processor files, as far as they can be shown and written."""

from __future__ import annotations

import io
from typing import NamedTuple

from PIL import Image

KINDS = {"PNG": "image/png", "JPEG": "image/jpeg", "GIF": "image/gif", "WEBP": "image/webp"}
"""Forms of pictures that are kept as they are; others that can be opened are made anew as PNG."""

MOST_PIXELS = 200_000_000

SMALL = (64, 64)
"""Pixels as which a JPEG is opened where only whether it can be is asked."""


class FilePicture(NamedTuple):
    data: bytes
    media: str


def usable_picture(data: bytes) -> FilePicture | None:
    """A picture in a form that can be shown; None for one that is broken, too large or of a kind that cannot be."""
    try:
        with Image.open(io.BytesIO(data)) as picture:
            if picture.width * picture.height > MOST_PIXELS:
                return None
            if picture.format == "PNG":
                picture.verify()
                return FilePicture(data, KINDS["PNG"])
            if picture.format in KINDS:
                picture.draft("L", SMALL)
                picture.load()
                return FilePicture(data, KINDS[picture.format])
            out = io.BytesIO()
            picture.convert("RGBA").save(out, "PNG")
            return FilePicture(out.getvalue(), KINDS["PNG"])
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        return None
