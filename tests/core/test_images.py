"""Picture files as sources: every mode, orientation, several pages, damage, size."""

from __future__ import annotations

import io
import struct
import zlib

import numpy as np
import pillow_heif
import pytest
from PIL import Image

from evenquill.core.errors import DamagedSource, TooLarge
from evenquill.core.source import examine, media_of
from evenquill.core.source.frames import frame_of_image

PAGE = Image.fromarray(np.tile(np.linspace(255, 200, 300, dtype=np.uint8), (400, 1)))


def saved(tmp_path, image, name, **options):
    path = tmp_path / name
    image.save(path, **options)
    return path


@pytest.mark.parametrize("mode", ["1", "L", "P", "RGB", "RGBA", "LA", "CMYK", "I;16", "F"])
def test_every_mode_becomes_red_green_and_blue(tmp_path, mode):
    if mode == "I;16":
        image = Image.fromarray(np.asarray(PAGE).astype(np.uint16) * 257)
    elif mode == "LA":
        image = PAGE.convert("LA")
    else:
        image = PAGE.convert(mode)
    pixels, _, cut_short = frame_of_image(saved(tmp_path, image, "page.tif"), 1)
    assert pixels.shape == (400, 300, 3)
    assert pixels.dtype == np.uint8
    assert pixels[10, 10].mean() > 240
    assert not cut_short


def test_what_is_transparent_is_white_paper(tmp_path):
    clear = Image.new("RGBA", (40, 30), (0, 0, 0, 0))
    clear.paste((0, 0, 0, 255), (10, 10, 20, 20))
    pixels, _, _ = frame_of_image(saved(tmp_path, clear, "page.png"), 1)
    assert pixels[0, 0].tolist() == [255, 255, 255]
    assert pixels[15, 15].tolist() == [0, 0, 0]


@pytest.mark.parametrize("name", ["page.jpg", "page.png", "page.webp", "page.tif"])
def test_kinds_are_told_by_their_bytes(tmp_path, name):
    path = saved(tmp_path, PAGE, name)
    renamed = path.rename(tmp_path / "scan.dat")
    assert examine(renamed).pages == 1
    assert media_of(renamed) == {"jpg": "image/jpeg", "tif": "image/tiff"}.get(name[5:], f"image/{name[5:]}")


def test_heic_is_read_and_a_damaged_one_is_refused(tmp_path):
    path = tmp_path / "photo.heic"
    pillow_heif.from_pillow(PAGE.convert("RGB")).save(path)
    pixels, dpi, _ = frame_of_image(path, 1)
    assert pixels.shape == (400, 300, 3)
    assert dpi is None
    path.write_bytes(path.read_bytes()[:60])
    with pytest.raises(DamagedSource, match="damaged"):
        examine(path)


def test_the_orientation_that_a_camera_notes_is_honoured(tmp_path):
    exif = Image.Exif()
    exif[0x0112] = 6
    pixels, _, _ = frame_of_image(saved(tmp_path, PAGE.convert("RGB"), "photo.jpg", exif=exif), 1)
    assert pixels.shape == (300, 400, 3)


def test_pages_of_a_tiff_and_what_made_it(tmp_path):
    second = PAGE.point(lambda value: 255 - value)
    path = saved(tmp_path, PAGE, "fax.tif", save_all=True, append_images=[second], dpi=(100, 50), software="Kopla 4")
    facts = examine(path)
    assert facts.pages == 2
    assert facts.producer == "Kopla 4"
    pixels, dpi, _ = frame_of_image(path, 2)
    assert pixels.mean() < 80
    # Coarse fax pages are scanned more finely across than down.
    assert pixels.shape == (800, 300, 3)
    assert dpi == pytest.approx(100)


def test_one_bit_fax_pages_are_read(tmp_path):
    path = saved(tmp_path, PAGE.convert("1"), "fax.tif", compression="group4", dpi=(200, 200))
    assert frame_of_image(path, 1)[0].shape == (400, 300, 3)


@pytest.mark.parametrize("dpi", [72, 96, 9000, 1])
def test_resolutions_that_cannot_be_a_page_s_are_not_believed(tmp_path, dpi):
    assert frame_of_image(saved(tmp_path, PAGE, "page.png", dpi=(dpi, dpi)), 1)[1] is None


def test_a_damaged_directory_costs_only_the_pages_behind_it(tmp_path):
    path = saved(tmp_path, PAGE, "fax.tif", save_all=True, append_images=[PAGE, PAGE])
    data = bytearray(path.read_bytes())
    first = struct.unpack("<I", data[4:8])[0]
    entries = struct.unpack("<H", data[first : first + 2])[0]
    data[first + 2 + 12 * entries : first + 6 + 12 * entries] = struct.pack("<I", 0x7FFFFFF0)
    path.write_bytes(data)
    assert examine(path).pages == 1
    data[4:8] = struct.pack("<I", 0x7FFFFFF0)
    path.write_bytes(data)
    with pytest.raises(DamagedSource):
        examine(path)


def test_a_picture_that_is_cut_short_gives_what_is_there(tmp_path):
    path = saved(tmp_path, Image.effect_noise((400, 300), 60), "page.jpg")
    path.write_bytes(path.read_bytes()[: path.stat().st_size // 2])
    pixels, _, cut_short = frame_of_image(path, 1)
    assert cut_short
    assert pixels.shape == (300, 400, 3)


def test_a_picture_that_would_fill_gigabytes_is_refused_before_it_is_unpacked(tmp_path):
    def chunk(name: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    header = struct.pack(">IIBBBBB", 60_000, 60_000, 8, 2, 0, 0, 0)
    path = tmp_path / "bomb.png"
    path.write_bytes(b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", b"x") + chunk(b"IEND", b""))
    with pytest.raises(TooLarge, match="60000 by 60000 pixels"):
        examine(path)


def test_a_picture_of_thirty_thousand_pixels_is_scaled(tmp_path):
    path = saved(tmp_path, Image.new("L", (30_000, 4_000), 255), "plan.png", dpi=(600, 600))
    pixels, dpi, _ = frame_of_image(path, 1)
    assert pixels.shape[1] <= 30_000
    assert pixels.size // 3 <= 120_000_000
    assert dpi == pytest.approx(600 * pixels.shape[1] / 30_000, rel=0.01)


def test_nonsense_behind_the_right_first_bytes(tmp_path):
    path = tmp_path / "page.png"
    path.write_bytes(b"\x89PNG\r\n\x1a\n" + bytes(200))
    with pytest.raises(DamagedSource):
        examine(path)
    buffer = io.BytesIO()
    PAGE.save(buffer, "PNG")
    path.write_bytes(buffer.getvalue())
    with pytest.raises(DamagedSource, match="Page 3"):
        frame_of_image(path, 3)
