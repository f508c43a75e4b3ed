"""What happens to paper: pages of a PDF as a scanner or a telephone sees them. Used for demo documents, tests and figures.

Every function takes and returns pixels (height, width, 3), red, green, blue; the generator makes it repeatable.
"""

from __future__ import annotations

import io
from pathlib import Path

import cv2
import numpy as np
import pypdfium2 as pdfium
from numpy.typing import NDArray
from PIL import Image

Pixels = NDArray[np.uint8]
Corners = NDArray[np.float64]
Random = np.random.Generator


def drawn(pdf: Path | bytes, page: int = 1, dpi: float = 200) -> Pixels:
    """A clean page of a PDF."""
    document = pdfium.PdfDocument(pdf)
    try:
        return np.asarray(document[page - 1].render(scale=dpi / 72).to_pil().convert("RGB"))
    finally:
        document.close()


def printed(page: Pixels, random: Random, *, paper: tuple[int, int, int] = (238, 237, 233), ink: int = 38) -> Pixels:
    """Ink on paper with its grain instead of black on white."""
    share = page.astype(np.float32) / 255
    grain = cv2.GaussianBlur(random.normal(0, 1, page.shape[:2]).astype(np.float32), (0, 0), 1.2) * 9
    sheet = np.array(paper, np.float32) + grain[..., None]
    return _pixels(sheet * share + ink * (1 - share))


def turned(page: Pixels, degrees: float, paper: tuple[int, int, int] = (205, 204, 200)) -> Pixels:
    """Laid on the glass at an angle, clockwise; what is beside the sheet is the scanner's lid."""
    height, width = page.shape[:2]
    matrix = cv2.getRotationMatrix2D((width / 2, height / 2), -degrees, 1)
    return np.asarray(cv2.warpAffine(page, matrix, (width, height), flags=cv2.INTER_CUBIC, borderValue=paper), np.uint8)


def scanned(page: Pixels, random: Random, *, blur: float = 0.7, noise: float = 5, specks: int = 150) -> Pixels:
    """What glass, lamp and sensor add."""
    out = cv2.GaussianBlur(page, (0, 0), blur).astype(np.float32)
    height, width = page.shape[:2]
    out *= np.linspace(1.0, 0.96, width, dtype=np.float32)[None, :, None]
    for _ in range(specks):
        x, y = int(random.integers(2, width - 2)), int(random.integers(2, height - 2))
        cv2.circle(out, (x, y), int(random.integers(0, 2)), (40.0, 40.0, 40.0), -1)
    return _pixels(out + random.normal(0, noise, page.shape[:2]).astype(np.float32)[..., None])


def shadowed(page: Pixels, random: Random, depth: float = 0.45) -> Pixels:
    """A hand's shadow over one side of the page."""
    height, width = page.shape[:2]
    shadow = np.zeros((height // 8, width // 8), np.float32)
    side = random.integers(0, 2)
    corner = [
        (0 if side == 0 else width // 8, height // 8),
        (width // 16, height // 8),
        (width // 8 * side, height // 24),
    ]
    cv2.fillPoly(shadow, [np.array(corner, np.int32)], 1.0)
    shadow = cv2.resize(cv2.GaussianBlur(shadow, (0, 0), width / 8 / 22), (width, height))
    return _pixels(page.astype(np.float32) * (1 - depth * shadow)[..., None])


def photographed(
    page: Pixels, random: Random, *, lean: float = 0.05, table: tuple[int, int, int] = (86, 62, 44)
) -> Pixels:
    """Taken from one side, lying on a table, with a little of the table around it."""
    height, width = page.shape[:2]
    margin = 0.06
    corners = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float32)
    jitter = random.uniform(-lean, lean, (4, 2)) * (width, height)
    inner = corners * (1 - 2 * margin) + (margin * width, margin * height) + jitter.astype(np.float32)
    inner = np.clip(inner, 0.01 * width, None)
    wood = np.array(table, np.float32) + _grain(random, height, width)
    seen, mask = _seen(page, inner.astype(np.float32), height, width)
    return _pixels(seen * mask + wood * (1 - mask))


def _grain(random: Random, height: int, width: int) -> NDArray[np.float32]:
    """By how many levels of grey a wooden table is brighter or darker from place to place."""
    noise = random.normal(0, 60, (height, width)).astype(np.float32)
    return np.asarray(4 * cv2.GaussianBlur(noise, (0, 0), sigmaX=40, sigmaY=1.5)[..., None], np.float32)


def _seen(
    page: Pixels, seen_at: NDArray[np.float32], height: int, width: int
) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """A page in a photo, its corners at these places, and where it is: 1, and 0 beside it."""
    own_height, own_width = page.shape[:2]
    corners = np.array([[0, 0], [own_width, 0], [own_width, own_height], [0, own_height]], np.float32)
    view = cv2.getPerspectiveTransform(corners, seen_at)
    seen = cv2.warpPerspective(page, view, (width, height), flags=cv2.INTER_AREA).astype(np.float32)
    mask = cv2.warpPerspective(np.ones((own_height, own_width), np.float32), view, (width, height))
    return seen, np.asarray(mask[..., None], np.float32)


def warped(page: Pixels, depth: float = 0.008) -> Pixels:
    """A page that does not lie flat: its lines swing by ``depth`` of the page's height."""
    height, width = page.shape[:2]
    x, y = np.meshgrid(np.arange(width, dtype=np.float32), np.arange(height, dtype=np.float32))
    swing = depth * height * np.sin(np.pi * x / width) * (1 - 0.5 * y / height)
    return np.asarray(
        cv2.remap(page, x, y + swing.astype(np.float32), cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
    )


TABLES = ((86, 62, 44), (60, 66, 78), (170, 150, 120), (205, 205, 205), (120, 60, 50), (40, 40, 42))
"""Colours of tables, two of them light."""


def folded(page: Pixels, random: Random) -> Pixels:
    """A sheet that was folded once or twice, mostly across: a crease is darker, with a bright edge, and its parts lean from the light."""
    light = np.ones(page.shape[:2], np.float32)
    for axis, often in ((0, 0.6), (1, 0.25)):
        if random.random() > often:
            continue
        size = page.shape[axis]
        for at in (1 / 3, 2 / 3) if random.random() < 0.6 else (1 / 2,):
            away = (np.arange(size) - size * (at + random.uniform(-0.02, 0.02))) / (0.004 * size)
            crease = 1 - random.uniform(0.04, 0.16) * np.exp(-((away / 1.2) ** 2))
            crease += random.uniform(0.02, 0.06) * np.exp(-(((away - 2.5) / 1.5) ** 2))
            crease *= 1 + random.uniform(-0.06, 0.06) / (1 + np.exp(-np.clip(away, -90, 90) / 3))
            light *= crease[:, None] if axis == 0 else crease[None, :]
    return _pixels(page.astype(np.float32) * light[..., None])


def lit(page: Pixels, random: Random) -> Pixels:
    """Lit from one side, and darker towards the corners, by light of some colour."""
    height, width = page.shape[:2]
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    x, y = x / width - 0.5, y / height - 0.5
    angle = random.uniform(0, 2 * np.pi)
    light = 1 + random.uniform(0.05, 0.35) * (np.cos(angle) * x + np.sin(angle) * y)
    light *= 1 - random.uniform(0, 0.35) * 2 * (x**2 + y**2)
    tint = np.array(((1, 1, 1), (1, 0.97, 0.88), (0.94, 0.98, 1))[int(random.integers(3))], np.float32)
    return _pixels(page.astype(np.float32) * light[..., None] * tint)


def on_a_table(page: Pixels, random: Random, *, lean: float = 0.07, turn: float = 2.5) -> tuple[Pixels, Corners]:
    """A sheet on a table of some colour, taken from one side, ``turn`` degrees askew on average; and where its corners are, from top left
    clockwise. ``lean`` is the share of its sides by which a corner may be off."""
    height, width = page.shape[:2]
    share = random.uniform(0.72, 0.95)
    tall, wide = int(height / share), int(width / share * random.uniform(1.0, 1.25))
    grain = _grain(random, tall, wide)
    table = np.array(TABLES[int(random.integers(len(TABLES)))], np.float32) + grain
    corners = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float32)
    seen_at = (
        corners + ((wide - width) / 2, (tall - height) / 2) + random.uniform(-lean, lean, (4, 2)) * (width, height)
    )
    matrix = cv2.getRotationMatrix2D((wide / 2, tall / 2), random.normal(0, turn), 1)
    seen_at = np.clip(seen_at @ matrix[:, :2].T + matrix[:, 2], 3, (wide - 3, tall - 3)).astype(np.float32)
    sheet, mask = _seen(page, seen_at, tall, wide)
    cast = np.roll(mask[..., 0], (round(0.006 * tall), round(0.006 * wide)), (0, 1))
    shade = cv2.GaussianBlur(cast, (0, 0), 0.008 * wide)
    table *= (1 - 0.5 * shade)[..., None]
    return _pixels(sheet * mask + table * (1 - mask)), seen_at.astype(np.float64)


def taken_by_telephone(page: Pixels, random: Random) -> tuple[Pixels, Corners]:
    """A printed page as a telephone sees it on a table, maybe folded, bent, in shadow; and where its corners are."""
    page = folded(page, random)
    page = warped(page, random.uniform(0, 0.009)) if random.random() < 0.5 else page
    photo, corners = on_a_table(page, random)
    photo = lit(photo, random)
    photo = shadowed(photo, random, random.uniform(0.1, 0.45)) if random.random() < 0.5 else photo
    blurred = cv2.GaussianBlur(photo, (0, 0), random.uniform(0.5, 1.3)).astype(np.float32)
    noise = random.normal(0, random.uniform(1.5, 6), photo.shape[:2]).astype(np.float32)
    return _pixels(blurred + noise[..., None]), corners


def as_jpeg(page: Pixels, quality: int = 80, dpi: int = 200) -> bytes:
    """The page as a JPEG file."""
    out = io.BytesIO()
    Image.fromarray(page).save(out, "JPEG", quality=quality, dpi=(dpi, dpi))
    return out.getvalue()


def as_pdf(pages: list[Pixels], dpi: int = 200, quality: int = 75, *, grey: bool = False) -> bytes:
    """A PDF whose pages are pictures."""
    images = [Image.fromarray(page).convert("L" if grey else "RGB") for page in pages]
    out = io.BytesIO()
    images[0].save(out, "PDF", resolution=dpi, save_all=True, append_images=images[1:], quality=quality)
    return out.getvalue()


def _pixels(values: NDArray[np.float32]) -> Pixels:
    return np.clip(values, 0, 255).astype(np.uint8)
