"""The small parts of the reader of scans, each on something drawn for it."""

from __future__ import annotations

import io
import struct

import cv2
import numpy as np
import pikepdf
import pypdfium2 as pdfium
import pytest
import scan_effects
from PIL import Image
from sheets import PROSE, words_of

from evenquill import cli
from evenquill.core.fitted.trees import UNMEASURED
from evenquill.core.model import Box, Family
from evenquill.core.reading.preparation import Preparation
from evenquill.core.reading.scanned.cleaning.sheet import find_sheet, flattening, like_paper, true_ratio
from evenquill.core.reading.scanned.ink import ink_of, pieces_of
from evenquill.core.reading.scanned.languages import languages_found, languages_to_try
from evenquill.core.reading.scanned.look_features import LOOK_FEATURES, LineLook, WordLook, look_features
from evenquill.core.reading.scanned.looks import types_of
from evenquill.core.reading.scanned.prepared import Scan, prepared
from evenquill.core.reading.scanned.raster import Raster, scaled
from evenquill.core.reading.scanned.rules import framed_boxes, rules_of
from evenquill.core.reading.scanned.seen_looks import SeenLook
from evenquill.core.reading.scanned.sizes import Heights
from evenquill.core.reading.scanned.text_line import TextLine, densest, fitted
from evenquill.core.reading.scanned.textlines import is_leader_dot, x_height_of
from evenquill.core.reading.scanned.words import ReadLine, ReadWord, Symbol
from evenquill.core.reading.sizing import Ground, read_pdf_page, size_up

WHITE = 245


def test_ink_is_told_from_paper_and_falls_into_pieces():
    page = np.full((200, 300), WHITE, np.uint8)
    page[50:60, 40:60] = 40
    page[120:125, 200:230] = 60
    pieces = pieces_of(ink_of(page, 200))
    assert sorted(pieces.boxes.tolist()) == [[40, 50, 60, 60], [200, 120, 230, 125]]
    assert sorted(pieces.areas.tolist()) == [150, 200]


def test_rules_are_found_though_tilted_and_taken_off_the_ink():
    ink = np.zeros((400, 900), np.uint8)
    cv2.line(ink, (50, 100), (850, 104), 1, 3)
    cv2.line(ink, (60, 150), (60, 390), 1, 3)
    cv2.putText(ink, "float", (200, 250), cv2.FONT_HERSHEY_SIMPLEX, 1, 1, 2)
    rules = rules_of(ink, 200, 16)
    assert [round(rule.width) for rule in rules.level] == [pytest.approx(800, abs=8)]
    assert [round(rule.height) for rule in rules.upright] == [pytest.approx(240, abs=14)]
    assert rules.ink[:140].sum() < 0.02 * ink[:140].sum()
    assert rules.ink[220:270, 190:330].sum() == ink[220:270, 190:330].sum()


def test_four_rules_that_meet_are_a_box():
    level = [Box(10, 10, 110, 12), Box(10, 60, 110, 62), Box(300, 10, 400, 12)]
    upright = [Box(10, 10, 12, 62), Box(108, 10, 110, 62)]
    assert framed_boxes(level, upright, 1.0) == [Box(10, 10, 110, 62)]
    assert framed_boxes(level, upright[:1], 1.0) == []


def test_baseline_and_x_height_are_those_of_most_letters():
    letters = np.array([[20.0 * n, 80 - 2, 20.0 * n + 12, 100] for n in range(12)])
    letters[3, 1] = 66  # an ascender
    letters[5, 3] = 108  # a descender
    a, b, x_height = fitted(letters)
    assert a + b * 100 == pytest.approx(100, abs=0.5)
    assert x_height == pytest.approx(22, abs=0.5)
    assert densest(np.array([1.0, 5.0, 5.2, 5.1, 9.0]), 0.3) == pytest.approx(5.1)


def test_a_sheet_seen_from_the_side_keeps_its_shape():
    """A rectangle 210 by 297 seen by a camera that is tilted by 35 degrees."""
    tilt, far = np.deg2rad(35), 900.0
    corners = np.array([[-105, -148.5], [105, -148.5], [105, 148.5], [-105, 148.5]])
    depth = far + corners[:, 1] * np.sin(tilt)
    seen = 1500 * np.stack([corners[:, 0], corners[:, 1] * np.cos(tilt)], axis=1) / depth[:, None] + [1000, 750]
    ratio = true_ratio(seen, (2000, 1500))
    assert ratio == pytest.approx(210 / 297, rel=0.02)
    _, width, height = flattening(seen, (2000, 1500))
    assert width / height == pytest.approx(210 / 297, rel=0.01)
    assert like_paper(3.0) == 3.0


def test_a_page_that_fills_the_picture_is_no_sheet_on_a_table(paper):
    assert find_sheet(paper(PROSE)) is None


def test_rasters_change_their_resolution():
    raster = Raster(np.zeros((300, 200, 3), np.uint8), 300)
    assert raster.at(150).pixels.shape == (150, 100, 3)
    assert raster.at(300) is raster
    assert (raster.width, raster.height) == (200, 300)
    assert scaled(np.full((4, 4), 9, np.uint8), 2.0).shape == (8, 8)


def test_languages_need_enough_letters():
    assert languages_found(["zu"]) == languages_to_try(()) == ("eng",)
    assert languages_found(["Die Pegelstände wurden während des Sturmes überprüft und verglichen."]) == ("deu",)


def codecs(page: np.ndarray) -> dict[str, tuple[bytes, pikepdf.Dictionary]]:
    """The page's pixels as streams of a PDF in the ways that scanners write them."""
    grey = Image.fromarray(page).convert("L")
    shape = {"Width": grey.width, "Height": grey.height}
    jpx, fax = io.BytesIO(), io.BytesIO()
    grey.save(jpx, "JPEG2000")
    grey.point(lambda value: 255 if value > 140 else 0).convert("1").save(
        fax, "TIFF", compression="group4", tiffinfo={278: grey.height}
    )
    with Image.open(io.BytesIO(fax.getvalue())) as tiff:
        strips = zip(tiff.tag_v2[273], tiff.tag_v2[279], strict=True)
        lines = b"".join(fax.getvalue()[at : at + length] for at, length in strips)
        black_is_one = tiff.tag_v2[262] == 1
        assert len(tiff.tag_v2[273]) == 1
    return {
        "JPEG 2000": (jpx.getvalue(), pikepdf.Dictionary(Filter=pikepdf.Name.JPXDecode, **shape)),
        "CCITT": (
            lines,
            pikepdf.Dictionary(
                Filter=pikepdf.Name.CCITTFaxDecode,
                ColorSpace=pikepdf.Name.DeviceGray,
                BitsPerComponent=1,
                DecodeParms=pikepdf.Dictionary(K=-1, Columns=grey.width, Rows=grey.height, BlackIs1=bool(black_is_one)),
                **shape,
            ),
        ),
        "JBIG2": (
            as_jbig2(lines, grey.width, grey.height),
            pikepdf.Dictionary(
                Filter=pikepdf.Name.JBIG2Decode,
                ColorSpace=pikepdf.Name.DeviceGray,
                BitsPerComponent=1,
                Decode=[1, 0] if black_is_one else [0, 1],
                **shape,
            ),
        ),
    }


def as_jbig2(lines: bytes, width: int, height: int) -> bytes:
    """A page of one generic region whose lines are coded as in a fax (ITU-T T.88, 7.4.6 and 7.4.8), as it is put into a PDF."""

    def segment(number: int, kind: int, data: bytes) -> bytes:
        return struct.pack(">IBBBI", number, kind, 0, 1, len(data)) + data

    size = struct.pack(">II", width, height)
    page = segment(0, 48, size + struct.pack(">IIBH", 0, 0, 0, 0))
    region = segment(1, 38, size + struct.pack(">IIBB", 0, 0, 0, 1) + lines)
    return page + region


@pytest.mark.parametrize("codec", ["JPEG 2000", "CCITT", "JBIG2"])
def test_scans_are_read_however_they_are_packed(paper, pictures, tmp_path, codec):
    data, settings = codecs(paper(PROSE))[codec]
    pdf = pikepdf.new()
    page = pdf.add_blank_page(page_size=(419.5, 595.3))
    image = pikepdf.Stream(pdf, data, settings)
    image.Type, image.Subtype = pikepdf.Name.XObject, pikepdf.Name.Image
    page.Resources = pikepdf.Dictionary(XObject=pikepdf.Dictionary(Im=image))
    page.Contents = pdf.make_stream(b"419.5 0 0 595.3 0 0 cm /Im Do")
    pdf.save(tmp_path / "scan.pdf")
    document = pdfium.PdfDocument(tmp_path / "scan.pdf")
    size = size_up(document[0])
    assert size.ground is Ground.PICTURE
    assert size.dpi == pytest.approx(200, abs=2)
    read = words_of(read_pdf_page(document, 1, pictures.keep, Preparation()))
    assert len(set(PROSE.split()) - set(read)) <= 1


def test_the_command_joins_pictures_into_one_document(paper, tmp_path, capsys):
    for name in ("one", "two"):
        (tmp_path / f"{name}.jpg").write_bytes(
            scan_effects.as_jpeg(paper(f"Sheet {name} of the log lay on the stairs."))
        )
    names = [str(tmp_path / "two.jpg"), str(tmp_path / "one.jpg")]
    out = tmp_path / "log.docx"
    assert cli.main(["convert", *names, "--join", "-o", str(out), "--workers", "1"]) == cli.DONE
    import docx

    texts = [paragraph.text for paragraph in docx.Document(str(out)).paragraphs]
    assert texts == ["Sheet two of the log lay on the stairs.", "Sheet one of the log lay on the stairs."]
    assert cli.main(["convert", *names, "--language", "tlh", "-o", str(tmp_path)]) == cli.WRONG_USE
    assert "tesseract-ocr-tlh" in capsys.readouterr().err


def line_look(
    words: str, *, heavier: float = 1.0, leaning: float = 0.0, rng: np.random.Generator | None = None
) -> LineLook:
    """The measures of a line of which the words in capitals have wider stems, more ink and a lean, and are seen to be bold or slanted;
    all of them vary a little."""
    looks = []
    for word in words.split():
        marked = word.isupper()
        stem, ink, lean = rng.normal((0.2, 0.3, 0.0), (0.008, 0.015, 0.02)) if rng else (0.2, 0.3, 0.0)
        heavy = heavier if marked else 1.0
        bold, italic = rng.normal((-6.0, -7.0), 1.0) if rng else (-6.0, -7.0)
        seen = SeenLook(
            bold + 8.0 * (marked and heavier > 1), italic + 10.0 * (marked and leaning > 0), sans=-3.0, mono=-5.0
        )
        looks.append(WordLook(stem * heavy, ink * heavy, lean + (leaning if marked else 0.0), len(word), seen))
    return LineLook(tuple(looks), 0.0, 18.0, capitals=False, heights=Heights(4.6, 6.6))


def read_line_of(words: str) -> ReadLine:
    line = TextLine(np.zeros(1, np.int64), 0, 0, 10, 10, 10.0, 0.0, 18.0)
    return ReadLine(line, tuple(ReadWord((Symbol(word, 0, 10, 1.0),), 1.0) for word in words.split()))


@pytest.mark.parametrize(
    "words",
    [
        "THE WHOLE LINE HERE",
        "only the very last words of this are SET BOLDLY",
        "THE FIRST WORDS. Those behind them are text",
    ],
)
def test_words_with_wider_stems_and_more_ink_are_bold_and_those_that_lean_are_italic(words):
    rng = np.random.default_rng(5)
    texts = ["the float was found hard against the guide wire"] * 20 + [words]
    lines = [read_line_of(text) for text in texts]
    marked = [word.isupper() for word in words.split()]
    types = types_of(lines, [line_look(text, heavier=1.4, rng=rng) for text in texts], [Family.SERIF] * len(texts), 300)
    assert [one.bold for one in types[-1]] == marked
    assert not any(one.bold or one.italic for line in types[:-1] for one in line)
    types = types_of(
        lines, [line_look(text, leaning=0.25, rng=rng) for text in texts], [Family.SERIF] * len(texts), 300
    )
    assert [one.italic for one in types[-1]] == marked
    assert not any(one.bold for line in types for one in line)


def test_measures_of_looks_are_against_what_is_usual_and_say_what_is_unknown():
    looks = [line_look("the float was FOUND", heavier=1.5)] * 3 + [line_look("alone")]
    rows = look_features(looks, [Family.SERIF] * 4)
    stem, before, behind = (LOOK_FEATURES.index(name) for name in ("stem", "stem_before", "stem_behind"))
    assert rows[0][:, stem].tolist() == pytest.approx([1, 1, 1, 1.5])
    assert rows[0][-1, before] == pytest.approx(1)
    assert rows[0][-1, behind] == rows[3][0, before] == UNMEASURED


def test_the_height_of_small_letters_is_that_in_lines_where_figures_are_commoner():
    ink = np.zeros((1200, 900), np.uint8)
    for row in range(20):
        for figure in range(30):  # in cells of five
            x, y = 60 + figure * 14 + figure // 5 * 60, 60 + row * 30
            ink[y : y + 15, x : x + 9] = 1
    figures = ink.copy()
    for row in range(6):
        for letter in range(40):
            y = 700 + row * 40 - (5 if letter % 5 == 0 else 0)
            ink[y : 700 + row * 40 + 10, 60 + letter * 14 : 69 + letter * 14] = 1
    assert x_height_of(pieces_of(figures), 150) == 15
    assert x_height_of(pieces_of(ink), 150) == 10


def test_dots_that_lead_to_page_numbers_are_no_letters_however_many_they_are():
    ink = np.zeros((900, 1000), np.uint8)
    for row in range(10):
        for letter in range(12):
            ink[60 + row * 40 : 72 + row * 40, 60 + letter * 14 : 69 + letter * 14] = 1
        for dot in range(80):
            ink[67 + row * 40 : 72 + row * 40, 240 + dot * 8 : 245 + dot * 8] = 1
    assert x_height_of(pieces_of(ink), 150) == 12
    boxes = pieces_of(ink).boxes
    dots = is_leader_dot(boxes) & (boxes[:, 3] - boxes[:, 1] == 5)
    assert dots.sum() == 10 * 78  # all but the first and the last of each row


def test_lines_in_two_languages_tell_both_and_that_of_most_of_them_first():
    swedish = "Systemet på ditt nätverk som du ska använda under hela installationen."
    english = "In all other cases a default locale will be selected for the system."
    assert languages_found([swedish, english, swedish, english, swedish]) == ("swe", "eng")
    assert languages_found([swedish] * 9 + [english]) == ("swe",)


def test_a_page_that_says_nothing_any_way_round_stays_as_it_is():
    chance = np.random.default_rng(0)
    page = np.full((600, 900), 240, np.uint8)
    for y in range(80, 500, 30):
        for x in range(100, 800, 13):
            for down, right in chance.integers(0, 8, (6 if chance.random() < 0.85 else 0, 2)):
                page[y + down : y + down + 3, x + right : x + right + 3] = 20
    assert prepared(Scan(Raster(np.dstack([page] * 3), 150.0))).straight.turn == 0


def test_the_boxes_of_uneven_rules_are_plain_numbers():
    ink = np.zeros((200, 900), np.uint8)
    ink[100, 50:850] = 1
    ink[101, 50:550] = 1
    (rule,) = rules_of(ink, 150, 12.0).level
    assert [type(value) for value in rule] == [float] * 4
