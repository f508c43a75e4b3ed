"""Looks that are hard to see on a scan: rules that touch letters, small capitals, slanted words of letters that touch, photos taken from
nearer and farther."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
import scan_effects
from rapidfuzz.fuzz import ratio
from sheets import PROSE, words_of

from evenquill.core.layout.flow import SMALL_CAPITALS
from evenquill.core.model import Family, Marks
from evenquill.core.reading.scanned.cleaning.sheet import seen_from_one_side
from evenquill.core.reading.scanned.cleaning.straighten import is_resized_paper
from evenquill.core.reading.scanned.raster import Raster
from evenquill.core.reading.scanned.seen_looks import HEIGHT, WIDTH, picture_of_word, seen_looks_of
from evenquill.core.reading.scanned.segments import segment_page
from evenquill.core.reading.scanned.text_line import TextLine
from evenquill.core.rebuild.small_capitals import with_small_capitals

CHANCE = np.random.default_rng

TIGHT = "#underline(offset: 0.3pt, stroke: 1pt, evade: false)[Looking up good gauges by the old pier]"


def test_words_that_stand_in_their_underline_keep_their_feet(paper, read_paper):
    evidence = read_paper(paper(f"{TIGHT}\n\n{PROSE}", dpi=150), dpi=150)
    first = min(evidence.lines, key=lambda line: line.baseline)
    assert first.text == "Looking up good gauges by the old pier"
    assert all(word.marks & Marks.UNDERLINE for word in first.words)
    text = [line for line in evidence.lines if line is not first]
    assert first.size == pytest.approx(float(np.median([line.size for line in text])), rel=0.08)


@pytest.mark.parametrize("words", [("Gauges", "North", "Harbour"), ("Gauges", "northern", "sounding")])
def test_small_capitals_are_told_from_capitals_by_their_height(paper, read_paper, words):
    capitals = [word[0] if word[0].isupper() else "" for word in words]
    small = "".join(
        f"{first}#text(size: 0.78em)[{word[len(first) :].upper()}] "
        for first, word in zip(capitals, words, strict=True)
    )
    evidence = read_paper(paper(f"{small}\n\nGAUGES OF THE NORTH HARBOUR\n\n{PROSE}", dpi=250), dpi=250)
    (page,) = with_small_capitals([evidence])
    first, second, *_ = sorted(page.lines, key=lambda line: line.baseline)
    assert first.text == " ".join(words)
    assert any(word.marks & SMALL_CAPITALS for word in first.words)
    assert second.text == "GAUGES OF THE NORTH HARBOUR"
    assert not any(word.marks & SMALL_CAPITALS for word in second.words)
    assert first.size == pytest.approx(second.size, rel=0.1)


def test_small_capitals_are_told_where_their_letters_touch(paper, read_paper):
    words = ("Soundings", "Of", "Channel", "And", "Harbours")
    small = "".join(f"{word[0]}#text(size: 0.78em)[{word[1:].upper()}] " for word in words)
    title = f"#text(tracking: -0.6pt)[{small}]\n\nLEVELS OF THE NORTH HARBOUR"
    source = f'#set text(font: "Libertinus Serif", size: 10pt)\n{title}\n\n{PROSE}'
    evidence = read_paper(scan_effects.scanned(paper(source, dpi=170), CHANCE(4), blur=0.9, noise=6), dpi=170)
    (page,) = with_small_capitals([evidence])
    first, second, *_ = sorted(page.lines, key=lambda line: line.baseline)
    assert first.text.startswith("Soundings Of Chan")
    assert second.text == "LEVELS OF THE NORTH HARBOUR"


@pytest.mark.parametrize("font", ["Libertinus Serif", "DejaVu Sans"])
def test_words_are_slanted_and_bold_though_their_letters_touch(paper, read_paper, font):
    last = "#emph[Soundings of the channel] and *levels of the basin* follow."
    source = f'#set text(font: "{font}", size: 10pt)\n{PROSE}\n\n{last}'
    page = scan_effects.scanned(paper(source, dpi=170), CHANCE(4), blur=0.9, noise=6)
    evidence = read_paper(page, dpi=170)
    last = max(evidence.lines, key=lambda line: line.baseline)
    assert last.text == "Soundings of the channel and levels of the basin follow."
    looks = [(evidence.types[word.type].italic, evidence.types[word.type].bold) for word in last.words]
    assert all(italic and not bold for italic, bold in looks[:4])
    assert all(bold and not italic for italic, bold in looks[5:9])
    assert not any(italic or bold for italic, bold in [looks[4], *looks[9:]])


def test_lines_in_grey_are_told_from_black_ones(paper, read_paper):
    grey = "#text(fill: luma(110))[Chapter two: levels of the basin]"
    page = scan_effects.scanned(paper(f"{PROSE}\n\n{grey}\n\n{PROSE}"), CHANCE(4), blur=0.6, noise=5)
    evidence = read_paper(page)
    colors = {line.text: evidence.types[line.words[0].type].color for line in evidence.lines}
    found = {text for text, color in colors.items() if color is not None}
    assert found == {"Chapter two: levels of the basin"}
    assert 0x30 <= int(colors[found.pop()][:2], 16) <= 0x90


def test_a_coloured_title_that_stands_in_its_underline_is_read_and_no_picture(paper, read_paper):
    title = '#text(size: 17pt, fill: rgb("9a3b3b"))[#underline(offset: 1pt, stroke: 1pt, evade: false)[_SOUNDINGS OF THE OLD HARBOUR_]]'
    page = scan_effects.scanned(paper(f"{title}\n\n{PROSE}", dpi=170), CHANCE(4), blur=0.7, noise=5)
    evidence = read_paper(page, dpi=170)
    first = min(evidence.lines, key=lambda line: line.baseline)
    assert first.text == "SOUNDINGS OF THE OLD HARBOUR"
    assert all(word.marks & Marks.UNDERLINE for word in first.words)
    assert evidence.types[first.words[0].type].color is not None
    assert evidence.pictures == ()


@pytest.mark.parametrize("thick", [0.8, 1.5])
def test_the_frame_of_a_coloured_stamp_stays_with_it_and_the_rules_of_a_table_do_not(paper, thick):
    def rules_of_page(source: str) -> list[int]:
        rules = segment_page(Raster(paper(f"{PROSE}\n\n{source}\n\n{PROSE}"), 200)).rules
        return [len(rules.level), len(rules.upright)]

    red = f'{thick}pt + rgb("b03030")'
    text = '#text(fill: rgb("b03030"), weight: "bold")[RECEIVED 4 MAY]'
    assert rules_of_page(f"#rect(stroke: {red}, inset: 7pt)[{text}]") == [0, 0]
    cells = ", ".join(f"[{cell}]" for cell in ("Gauge", "May", "June", "North pier", "2.31", "2.40"))
    assert rules_of_page(f"#table(columns: (40%, 30%, 30%), inset: 6pt, stroke: {red}, {cells})") == [3, 4]


@pytest.mark.parametrize("colour", ["4a5f84", "5c6b7a", "7a5c5c"])
def test_titles_in_a_muted_colour_lose_no_thin_letters(paper, read_paper, colour):
    title = f'#text(size: 15pt, fill: rgb("{colour}"))[Obtaining illustrations of the old inlet]'
    page = scan_effects.scanned(paper(f"{title}\n\n{PROSE}", dpi=150), CHANCE(4), blur=0.9, noise=6)
    evidence = read_paper(page, dpi=150)
    first = min(evidence.lines, key=lambda line: line.baseline)
    assert ratio(first.text, "Obtaining illustrations of the old inlet") > 92


@pytest.mark.parametrize(
    ("font", "family"),
    [
        ("Libertinus Serif", Family.SERIF),
        ("New Computer Modern", Family.SERIF),
        ("DejaVu Sans", Family.SANS),
        ("DejaVu Sans Mono", Family.MONO),
    ],
)
def test_the_family_of_a_face_is_seen(paper, read_paper, font, family):
    page = scan_effects.scanned(paper(f'#set text(font: "{font}", size: 9pt)\n{PROSE}', dpi=150), CHANCE(4), blur=0.9)
    evidence = read_paper(page, dpi=150)
    assert {evidence.types[word.type].family for line in evidence.lines for word in line.words} == {family}
    assert float(np.median([line.size for line in evidence.lines])) == pytest.approx(9, rel=0.12)


def test_photos_from_near_and_far_show_letters_of_one_size(paper, read_paper):
    page = paper(f"= Soundings\n{PROSE}\n\n{PROSE}", paper="a4")
    near, far = (
        scan_effects.photographed(page, CHANCE(5), lean=0.03),
        cv2.copyMakeBorder(
            scan_effects.photographed(page, CHANCE(5), lean=0.03),
            260,
            260,
            200,
            200,
            cv2.BORDER_CONSTANT,
            value=(86, 62, 44),
        ),
    )
    # A page of a file that is as large as the photo, table and all.
    shown = [read_paper(photo, dpi=photo.shape[1] / 8.27) for photo in (near, far)]
    for evidence in shown:
        assert evidence.cleaned.sheet
        assert (evidence.width, evidence.height) == pytest.approx((595.3, 841.9), rel=0.01)
    sizes = [[line.size for line in evidence.lines] for evidence in shown]
    assert sizes[0] == pytest.approx(sizes[1], rel=0.06)


def test_a_scanner_tells_how_large_a_sheet_is_and_a_camera_does_not():
    straight = np.array([[10.0, 10.0], [1250.0, 12.0], [1248.0, 1764.0], [8.0, 1762.0]])
    assert not seen_from_one_side(straight)
    assert seen_from_one_side(straight + np.array([[0, 0], [0, 0], [-40, 0], [0, 0]]))
    assert not is_resized_paper(1240, 1754, 150)  # A4
    assert not is_resized_paper(874, 1240, 150)  # A5, on a glass with a dark lid
    assert is_resized_paper(1100, 1556, 150)  # the ratio of A4, and no size that is sold
    assert not is_resized_paper(500, 1700, 150)  # a slip is as large as it is


def test_the_picture_of_a_word_has_letters_of_one_height_and_nothing_behind_it():
    page = np.full((120, 600), 255, np.uint8)
    cv2.putText(page, "hull", (100, 80), cv2.FONT_HERSHEY_SIMPLEX, 1.2, 0, 3)
    cv2.putText(page, "keel", (300, 80), cv2.FONT_HERSHEY_SIMPLEX, 1.2, 0, 3)
    line = TextLine(np.zeros(0, np.int64), 100, 50, 400, 82, 80.0, 0.0, 20.0)
    picture, fills = picture_of_word(page, line, 100, 175)
    assert picture.shape == (HEIGHT, WIDTH)
    assert picture[:, :55].max() > 200
    assert not picture[:, 8 * (fills + 1) :].any()
    assert len(seen_looks_of(page, [(line, 100, 175), (line, 300, 380)])) == 2
    assert seen_looks_of(page, []) == []


def test_words_on_paper_are_read_as_before_where_nothing_is_underlined(paper, read_paper):
    assert words_of(read_paper(paper(PROSE))) == PROSE.split()
