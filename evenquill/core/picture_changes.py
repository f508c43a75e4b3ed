"""Pictures turned by quarters and cut to a part of themselves, as new pictures."""

from __future__ import annotations

import io
import math
from typing import NamedTuple

from PIL import Image, UnidentifiedImageError

from evenquill.core.errors import EditError

SMALLEST = 8
"""Pixels of a side of a picture that is left."""

QUALITY = 92
"""Of a photograph that is written again."""


class NewPicture(NamedTuple):
    """A picture with its media type and its size in pixels."""

    data: bytes
    media: str
    width: int
    height: int


def changed_picture(data: bytes, quarter_turns: int, box: tuple[float, float, float, float]) -> NewPicture:
    """A picture cut to a box (left, top, right, bottom, as shares of its sides), then turned by quarters to the right.

    JPEG stays JPEG, everything else becomes PNG. Raises EditError for what is no picture and for a box with nothing in it.
    """
    left, top, right, bottom = box
    if not (all(map(math.isfinite, box)) and 0 <= left < right <= 1 and 0 <= top < bottom <= 1):
        raise EditError("Draw a box within the picture.")
    try:
        with Image.open(io.BytesIO(data)) as image:
            photograph = image.format == "JPEG"
            width, height = image.size
            area = (round(left * width), round(top * height), round(right * width), round(bottom * height))
            if area[2] - area[0] < SMALLEST or area[3] - area[1] < SMALLEST:
                raise EditError(f"At least {SMALLEST} by {SMALLEST} pixels have to be left.")
            made = image.crop(area)
    except (UnidentifiedImageError, OSError, Image.DecompressionBombError):
        raise EditError("This picture cannot be changed.") from None
    turn = {1: Image.Transpose.ROTATE_270, 2: Image.Transpose.ROTATE_180, 3: Image.Transpose.ROTATE_90}.get(
        quarter_turns % 4
    )
    if turn is not None:
        made = made.transpose(turn)
    out = io.BytesIO()
    if photograph:
        made.convert("RGB" if made.mode != "L" else "L").save(out, "JPEG", quality=QUALITY)
    else:
        made.save(out, "PNG")
    return NewPicture(out.getvalue(), "image/jpeg" if photograph else "image/png", made.width, made.height)
