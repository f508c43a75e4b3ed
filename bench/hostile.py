"""Sources made to do harm, or that bad luck could make: small files that unpack to much, call themselves, or claim what is not there."""

from __future__ import annotations

import random
import struct
import zlib
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pikepdf
from pdf_parts import filtered, form, page, save, squeezed, written, written_by_hand
from pikepdf import Array, Dictionary, Name, Object, Pdf, Stream
from PIL import Image

Make = Callable[[Path], None]
SOURCES: dict[str, Make] = {}
"""By file name what makes it."""


def source(name: str) -> Callable[[Make], Make]:
    """Names a function that makes a source."""

    def add(make: Make) -> Make:
        SOURCES[name] = make
        return make

    return add


def make_all(folder: Path) -> list[Path]:
    """All sources in a folder."""
    folder.mkdir(parents=True, exist_ok=True)
    made = []
    for name, make in SOURCES.items():
        make(folder / name)
        made.append(folder / name)
    return made


def _forms(path: Path, levels: int, each: int, unit: bytes = b"0 0 9 9 re f ") -> None:
    with Pdf.new() as pdf:
        inner = form(pdf, unit * each)
        for _ in range(levels):
            inner = form(pdf, b"/X Do " * each, {"/X": inner})
        page(pdf, b"/X Do", XObject=Dictionary(X=inner))
        save(pdf, path)


@source("ten levels of ten forms.pdf")
def _ten_levels(path: Path) -> None:
    _forms(path, 10, 10)


@source("ten levels of ten forms with text.pdf")
def _ten_levels_of_text(path: Path) -> None:
    _forms(path, 10, 10, b"BT /F 9 Tf 50 50 Td (Keel) Tj ET ")


@source("a thousand levels of one form.pdf")
def _thousand_levels(path: Path) -> None:
    _forms(path, 1000, 1)


@source("forms that call each other.pdf")
def _forms_in_a_circle(path: Path) -> None:
    with Pdf.new() as pdf:
        one, other = form(pdf, b"/X Do /X Do"), form(pdf, b"/X Do /X Do")
        one.Resources.XObject = Dictionary(X=other)
        other.Resources.XObject = Dictionary(X=one)
        page(pdf, b"/X Do", XObject=Dictionary(X=one))
        save(pdf, path)


@source("content of 2 GB compressed twice.pdf")
def _twice(path: Path) -> None:
    data = squeezed(2_000_000_000, b"0 0 m 9 9 l S\n" * 4681, 2)
    written(path, lambda pdf: filtered(pdf, data, Name.FlateDecode, Name.FlateDecode))


@source("content of 1 GB of spaces.pdf")
def _spaces(path: Path) -> None:
    data = squeezed(1_000_000_000, b" " * 65536)
    written(path, lambda pdf: filtered(pdf, data, Name.FlateDecode))


@source("content compressed forty times.pdf")
def _forty(path: Path) -> None:
    data = squeezed(65536, b"BT /F 9 Tf 50 700 Td (Keel) Tj ET " * 2000, 40)
    written(path, lambda pdf: filtered(pdf, data, *[Name.FlateDecode] * 40))


@source("a path of a million segments.pdf")
def _long_path(path: Path) -> None:
    chance = random.Random(1)
    segments = " ".join(f"{chance.uniform(50, 550):.1f} {chance.uniform(50, 800):.1f} l" for _ in range(1_000_000))
    written(path, f"BT /F 12 Tf 50 820 Td (The path below) Tj ET 0 0 m {segments} S".encode())


@source("three hundred thousand paths.pdf")
def _many_paths(path: Path) -> None:
    chance = random.Random(2)
    lines = [f"{chance.uniform(0, 590):.1f} {chance.uniform(0, 840):.1f} 3 3 re f" for _ in range(300_000)]
    written(path, "\n".join(lines).encode())


@source("dashes of a millionth.pdf")
def _dashes(path: Path) -> None:
    written(path, b"[0.000001 0.000001] 0 d 1 w 0 0 m 595 842 l S " * 50)


@source("a million states saved.pdf")
def _states(path: Path) -> None:
    written(path, b"q " * 1_000_000 + b"BT /F 9 Tf 50 700 Td (Keel) Tj ET")


@source("arrays within arrays.pdf")
def _arrays(path: Path) -> None:
    written(path, b"BT /F 9 Tf " + b"[" * 500_000 + b"(Keel)" + b"]" * 500_000 + b" TJ ET")


@source("a word of a million letters.pdf")
def _long_word(path: Path) -> None:
    written(path, b"BT /F 0.01 Tf 50 700 Td (" + b"a" * 1_000_000 + b") Tj ET")


@source("a hundred thousand words on a page.pdf")
def _many_words(path: Path) -> None:
    chance = random.Random(3)
    lines = [
        f"BT /F 1 Tf {chance.uniform(0, 590):.2f} {chance.uniform(0, 840):.2f} Td (keel) Tj ET" for _ in range(100_000)
    ]
    written(path, "\n".join(lines).encode())


@source("words at every angle.pdf")
def _angles(path: Path) -> None:
    chance = random.Random(4)
    lines = []
    for _ in range(20_000):
        angle = chance.uniform(0, 6.28)
        c, s = np.cos(angle), np.sin(angle)
        x, y = chance.uniform(0, 590), chance.uniform(0, 840)
        lines.append(f"BT /F 6 Tf {c:.3f} {s:.3f} {-s:.3f} {c:.3f} {x:.1f} {y:.1f} Tm (keel light) Tj ET")
    written(path, "\n".join(lines).encode())


@source("a grid of 600 by 600 rules.pdf")
def _grid(path: Path) -> None:
    lines = [f"0 {n} m 595 {n} l S {n} 0 m {n} 842 l S" for n in np.linspace(0, 595, 600)]
    written(path, ("0.1 w " + " ".join(lines)).encode())


def _picture(pdf: Pdf, data: bytes, width: int, height: int, bits: int, *filters: Name, **keys: object) -> Object:
    return filtered(
        pdf,
        data,
        *filters,
        Type=Name.XObject,
        Subtype=Name.Image,
        Width=width,
        Height=height,
        BitsPerComponent=bits,
        **keys,
    )


def _page_with_picture(path: Path, *arguments: object, **keys: object) -> None:
    with Pdf.new() as pdf:
        picture = _picture(pdf, *arguments, **keys)  # type: ignore[arg-type]
        page(pdf, b"595 0 0 842 0 0 cm /P Do", XObject=Dictionary(P=picture))
        save(pdf, path)


@source("a one-bit picture of 34,000 pixels.pdf")
def _one_bit(path: Path) -> None:
    data = squeezed(34_000 * 34_000 // 8, b"\xff" * 65536)
    _page_with_picture(path, data, 34_000, 34_000, 1, Name.FlateDecode, ColorSpace=Name.DeviceGray)


@source("a picture of 30,000 pixels in colour.pdf")
def _colour(path: Path) -> None:
    data = squeezed(30_000 * 30_000 * 3)
    _page_with_picture(path, data, 30_000, 30_000, 8, Name.FlateDecode, ColorSpace=Name.DeviceRGB)


@source("a picture that claims a million pixels a side.pdf")
def _claimed(path: Path) -> None:
    _page_with_picture(
        path, zlib.compress(b"\0" * 99), 1_000_000, 1_000_000, 8, Name.FlateDecode, ColorSpace=Name.DeviceRGB
    )


@source("run lengths.pdf")
def _run_lengths(path: Path) -> None:
    data = zlib.compress(b"\x81\x00" * 4_000_000, 9)
    _page_with_picture(
        path, data, 20_000, 20_000, 8, Name.FlateDecode, Name.RunLengthDecode, ColorSpace=Name.DeviceGray
    )


@source("masks of masks.pdf")
def _masks(path: Path) -> None:
    with Pdf.new() as pdf:
        data = squeezed(4000 * 4000, b"\x80" * 64000)
        picture = None
        for _ in range(30):
            keys = {"SMask": picture} if picture is not None else {}
            picture = _picture(pdf, data, 4000, 4000, 8, Name.FlateDecode, ColorSpace=Name.DeviceGray, **keys)
        page(pdf, b"595 0 0 842 0 0 cm /P Do " * 30, XObject=Dictionary(P=picture))
        save(pdf, path)


def _tiling(pdf: Pdf, content: bytes, side: float, step: float, inside: Object | None = None) -> Object:
    """A pattern of tiles of a side, a step apart; its content may be painted with another one."""
    return pdf.make_indirect(
        Stream(
            pdf, content, Type=Name.Pattern, PatternType=1, PaintType=1, TilingType=1, BBox=Array([0, 0, side, side]),
            XStep=step, YStep=step, Resources=Dictionary({"/Pattern": Dictionary(P=inside)} if inside is not None else {}),
        )
    )  # fmt: skip


def _page_of_pattern(pdf: Pdf, pattern: Object, path: Path) -> None:
    page(pdf, b"/Pattern cs /P scn 0 0 595 842 re f", Pattern=Dictionary(P=pattern))
    save(pdf, path)


@source("patterns within patterns.pdf")
def _patterns(path: Path) -> None:
    with Pdf.new() as pdf:
        pattern = _tiling(pdf, b"0 0 1 1 re f", 9, 0.5)
        for _ in range(7):
            pattern = _tiling(pdf, b"/Pattern cs /P scn 0 0 9 9 re f", 9, 0.5, pattern)
        _page_of_pattern(pdf, pattern, path)


@source("a pattern of a thousandth.pdf")
def _fine_pattern(path: Path) -> None:
    with Pdf.new() as pdf:
        _page_of_pattern(pdf, _tiling(pdf, b"0 0 1 1 re f", 1, 0.001), path)


@source("letters that draw themselves.pdf")
def _type3(path: Path) -> None:
    with Pdf.new() as pdf:
        font = pdf.make_indirect(
            Dictionary(
                Type=Name.Font, Subtype=Name.Type3, FontBBox=Array([0, 0, 1000, 1000]),
                FontMatrix=Array([0.001, 0, 0, 0.001, 0, 0]), FirstChar=97, LastChar=97, Widths=Array([1000]),
                Encoding=Dictionary(Type=Name.Encoding, Differences=Array([97, Name("/a")])),
            )
        )  # fmt: skip
        font.CharProcs = Dictionary(
            {"/a": Stream(pdf, b"1000 0 d0 BT /T 500 Tf (aaaaaaaaaa) Tj ET", Resources=Dictionary())}
        )
        font.Resources = Dictionary(Font=Dictionary(T=font))
        made = page(pdf, b"BT /T 20 Tf 50 700 Td (aaaaaaaaaa) Tj ET")
        made.Resources.Font.T = font
        save(pdf, path)


@source("a letter that means a million.pdf")
def _to_unicode(path: Path) -> None:
    with Pdf.new() as pdf:
        long = "0061" * 30_000
        cmap = (
            "/CIDInit /ProcSet findresource begin 12 dict begin begincmap /CMapName /X def "
            "1 begincodespacerange <00> <FF> endcodespacerange "
            f"1 beginbfchar <61> <{long}> endbfchar endcmap end end"
        )
        font = Dictionary(
            Type=Name.Font, Subtype=Name.Type1, BaseFont=Name.Helvetica, ToUnicode=Stream(pdf, cmap.encode())
        )
        made = page(pdf, b"BT /T 9 Tf 50 700 Td (" + b"a" * 3000 + b") Tj ET")
        made.Resources.Font.T = font
        save(pdf, path)


@source("a page tree that is a circle.pdf")
def _page_circle(path: Path) -> None:
    with Pdf.new() as pdf:
        page(pdf, b"BT /F 9 Tf 50 700 Td (Keel) Tj ET")
        save(pdf, path)
    data = path.read_bytes().replace(b"/Kids [ ", b"/Kids [ 2 0 R ")
    path.write_bytes(data)


def _claiming(path: Path, claimed: int) -> None:
    written_by_hand(
        path,
        [
            b"<</Type /Catalog /Pages 2 0 R>>",
            b"<</Type /Pages /Count %d /Kids [3 0 R]>>" % claimed,
            b"<</Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents 4 0 R "
            b"/Resources <</Font <</F <</Type /Font /Subtype /Type1 /BaseFont /Helvetica>>>>>>>>",
            b"<</Length 42>>\nstream\nBT /F 12 Tf 50 700 Td (Keel light.) Tj ET\nendstream",
        ],
    )


@source("one page that claims to be 15,000.pdf")
def _claims_many(path: Path) -> None:
    _claiming(path, 15_000)


@source("one page that claims to be two billion.pdf")
def _claims_billions(path: Path) -> None:
    _claiming(path, 2_000_000_000)


@source("a page tree of a hundred thousand levels.pdf")
def _deep_tree(path: Path) -> None:
    levels = 100_000
    objects = [b"<</Type /Catalog /Pages 2 0 R>>"]
    objects += [b"<</Type /Pages /Count 1 /Kids [%d 0 R]>>" % (n + 3) for n in range(levels)]
    objects.append(b"<</Type /Page /Parent %d 0 R /MediaBox [0 0 595 842]>>" % (levels + 1))
    written_by_hand(path, objects)


@source("dictionaries within dictionaries.pdf")
def _deep_dictionary(path: Path) -> None:
    deep = b"<</A " * 200_000 + b"1" + b">>" * 200_000
    written_by_hand(
        path,
        [
            b"<</Type /Catalog /Pages 2 0 R /X 4 0 R>>",
            b"<</Type /Pages /Count 1 /Kids [3 0 R]>>",
            b"<</Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Resources 4 0 R>>",
            deep,
        ],
    )


@source("bookmarks in a circle.pdf")
def _bookmarks(path: Path) -> None:
    written_by_hand(
        path,
        [
            b"<</Type /Catalog /Pages 2 0 R /Outlines 4 0 R>>",
            b"<</Type /Pages /Count 1 /Kids [3 0 R]>>",
            b"<</Type /Page /Parent 2 0 R /MediaBox [0 0 595 842]>>",
            b"<</Type /Outlines /First 5 0 R /Last 6 0 R /Count 2>>",
            b"<</Title (Keel) /Parent 4 0 R /Next 6 0 R /First 6 0 R /Last 5 0 R>>",
            b"<</Title (Light) /Parent 4 0 R /Next 5 0 R /First 5 0 R /Last 6 0 R>>",
        ],
    )


@source("two hundred thousand bookmarks.pdf")
def _many_bookmarks(path: Path) -> None:
    count = 200_000
    objects = [
        b"<</Type /Catalog /Pages 2 0 R /Outlines 4 0 R>>",
        b"<</Type /Pages /Count 1 /Kids [3 0 R]>>",
        b"<</Type /Page /Parent 2 0 R /MediaBox [0 0 595 842]>>",
        b"<</Type /Outlines /First 5 0 R /Last %d 0 R>>" % (count + 4),
    ]
    objects += [
        b"<</Title (Keel) /Parent 4 0 R%s>>" % (b" /Next %d 0 R" % (n + 6) if n < count - 1 else b"")
        for n in range(count)
    ]
    written_by_hand(path, objects)


@source("fifty thousand links.pdf")
def _links(path: Path) -> None:
    with Pdf.new() as pdf:
        made = page(pdf, b"BT /F 9 Tf 50 700 Td (Keel light) Tj ET")
        link = Dictionary(
            Type=Name.Annot, Subtype=Name.Link, Rect=Array([50, 690, 90, 710]),
            A=Dictionary(S=Name.URI, URI=pikepdf.String("http://keel.example/")),
        )  # fmt: skip
        made.Annots = Array([link] * 50_000)
        save(pdf, path)


@source("a page of a billion points.pdf")
def _huge_page(path: Path) -> None:
    written(path, b"BT /F 9 Tf 50 700 Td (Keel) Tj ET", box=(0, 0, 1e9, 1e9))


@source("a page without an area.pdf")
def _no_area(path: Path) -> None:
    written(path, b"BT /F 9 Tf 50 700 Td (Keel) Tj ET", box=(0, 0, 0, 0))


@source("thirty thousand empty pages.pdf")
def _empty_pages(path: Path) -> None:
    count = 30_000
    kids = b" ".join(b"%d 0 R" % (n + 3) for n in range(count))
    objects = [b"<</Type /Catalog /Pages 2 0 R>>", b"<</Type /Pages /Count %d /Kids [%s]>>" % (count, kids)]
    objects += [b"<</Type /Page /Parent 2 0 R /MediaBox [0 0 595 842]>>"] * count
    written_by_hand(path, objects)


@source("a PNG of 60,000 pixels.png")
def _png(path: Path) -> None:
    side = 60_000

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = struct.pack(">IIBBBBB", side, side, 8, 2, 0, 0, 0)
    path.write_bytes(
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", head)
        + chunk(b"IDAT", squeezed(side * (side * 3 + 1)))
        + chunk(b"IEND", b"")
    )


@source("a one-bit TIFF of 34,000 pixels.tif")
def _tiff(path: Path) -> None:
    Image.new("1", (34_000, 34_000), 1).save(path, compression="group4", dpi=(600, 600))


@source("a TIFF whose pages are a circle.tif")
def _tiff_circle(path: Path) -> None:
    Image.new("L", (64, 64), 200).save(path)
    data = bytearray(path.read_bytes())
    (first,) = struct.unpack_from("<I", data, 4)
    (entries,) = struct.unpack_from("<H", data, first)
    struct.pack_into("<I", data, first + 2 + 12 * entries, first)
    path.write_bytes(bytes(data))


@source("noise.jpg")
def _noise(path: Path) -> None:
    chance = np.random.default_rng(5)
    Image.fromarray(chance.integers(0, 256, (7000, 5000), np.uint8)).save(path, quality=60)


@source("forty thousand specks.png")
def _specks(path: Path) -> None:
    chance = np.random.default_rng(6)
    pixels = np.full((3508, 2480), 255, np.uint8)
    ys, xs = chance.integers(0, 3500, 40_000), chance.integers(0, 2470, 40_000)
    for dy in range(5):
        for dx in range(4):
            pixels[ys + dy, xs + dx] = 0
    Image.fromarray(pixels).save(path, dpi=(300, 300))
