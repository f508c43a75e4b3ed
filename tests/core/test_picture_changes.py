"""Pictures cropped and turned."""

from __future__ import annotations

import io

import pytest
from PIL import Image

from evenquill.core.errors import EditError
from evenquill.core.picture_changes import changed_picture


def written(form: str) -> bytes:
    """A picture of 40 by 20 pixels: its left half red, its right half blue, a green corner at the top left."""
    image = Image.new("RGB", (40, 20), "red")
    image.paste("blue", (20, 0, 40, 20))
    image.paste("lime", (0, 0, 8, 8))
    out = io.BytesIO()
    image.save(out, form, **({"quality": 95, "subsampling": 0} if form == "JPEG" else {}))
    return out.getvalue()


def corners(data: bytes) -> list[tuple[int, int, int]]:
    image = Image.open(io.BytesIO(data)).convert("RGB")
    w, h = image.size
    places = ((2, 2), (w - 3, 2), (w - 3, h - 3), (2, h - 3))
    return [tuple(round(value / 255) for value in image.getpixel(at)) for at in places]


RED, BLUE, LIME = (1, 0, 0), (0, 0, 1), (0, 1, 0)


@pytest.mark.parametrize(
    ("turns", "size", "expected"),
    [
        (0, (40, 20), [LIME, BLUE, BLUE, RED]),
        (1, (20, 40), [RED, LIME, BLUE, BLUE]),
        (2, (40, 20), [BLUE, RED, LIME, BLUE]),
        (-1, (20, 40), [BLUE, BLUE, RED, LIME]),
    ],
)
@pytest.mark.parametrize(("form", "media"), [("PNG", "image/png"), ("JPEG", "image/jpeg")])
def test_pictures_are_turned_and_stay_what_they_are(form, media, turns, size, expected):
    made = changed_picture(written(form), turns, (0, 0, 1, 1))
    assert (made.media, (made.width, made.height)) == (media, size)
    assert corners(made.data) == expected


def test_a_part_is_left():
    made = changed_picture(written("PNG"), 0, (0.5, 0, 1, 0.5))
    assert (made.width, made.height) == (20, 10)
    assert corners(made.data) == [BLUE] * 4


@pytest.mark.parametrize(
    ("data", "box", "says"),
    [
        (written("PNG"), (0.5, 0, 0.5, 1), "Draw a box"),
        (written("PNG"), (float("nan"), 0, 1, 1), "Draw a box"),
        (written("PNG"), (0, 0, 0.1, 1), "At least 8"),
        (b"no picture", (0, 0, 1, 1), "cannot be changed"),
        (written("PNG")[:60], (0, 0, 1, 1), "cannot be changed"),
    ],
)
def test_what_cannot_be_changed_says_why(data, box, says):
    with pytest.raises(EditError, match=says):
        changed_picture(data, 0, box)
