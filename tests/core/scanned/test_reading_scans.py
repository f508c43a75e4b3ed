"""What is read from pictures of pages: words, lists, notes, tables, looks, pictures, marks, languages."""

from __future__ import annotations

import difflib

import numpy as np
import pytest
import scan_effects
from sheets import PROSE, text_of, words_of

from evenquill.core.errors import LanguageMissing
from evenquill.core.evidence import PictureKind
from evenquill.core.model import Family, Marks, RemarkKind
from evenquill.core.reading import reading_data
from evenquill.core.reading.preparation import Preparation
from evenquill.core.reading.reading_data import check_languages, installed_languages
from evenquill.core.reading.scanned.languages import languages_to_try
from evenquill.core.reading.scanned.marks import marks_of
from evenquill.core.reading.scanned.prepared import Scan, prepared
from evenquill.core.reading.scanned.raster import Raster
from evenquill.core.reading.scanned.recognition import recognised

GERMAN = """Die Pegelstände der vergangenen Woche wurden überprüft und mit den Aufzeichnungen der Hafenbehörde verglichen.
Größere Abweichungen fanden sich nur während des Sturmes; für die übrigen Tage genügen die Ablesungen."""
ROMANIAN = """Nivelul apei a fost citit în fiecare dimineață, iar abaterile față de registrul portului au fost însemnate cu grijă.
Înainte de furtună instrumentele au fost șterse și așezate la loc."""
HUNGARIAN = """A vízállást minden reggel leolvasták, és az eltéréseket gondosan följegyezték a kikötő könyvébe.
A vihar előtt a műszereket megtörölték, és visszatették a helyükre."""
CATALAN = """El nivell de l'aigua es llegia cada matí, i les diferències amb el registre del port s'apuntaven amb cura.
Abans de la tempesta els instruments es van netejar i es van tornar al seu lloc."""
RUSSIAN = """Уровень воды отмечали каждое утро, а расхождения с книгой порта тщательно записывали.
Перед бурей приборы вытерли и поставили на место."""
UKRAINIAN = """Рівень води записували щоранку, а розбіжності з книгою порту ретельно позначали.
Перед бурею прилади витерли й поставили на місце."""
GREEK = """Η στάθμη του νερού διαβαζόταν κάθε πρωί και οι διαφορές από το βιβλίο του λιμανιού σημειώνονταν με προσοχή.
Πριν από την καταιγίδα τα όργανα καθαρίστηκαν και μπήκαν στη θέση τους."""
FINNISH = """Vedenkorkeuden havainnot on kirjoitettu puhtaaksi, ja mittarien ero pysyi koko kuukauden alle kahden senttimetrin.
Äkillinen jäätyminen hidasti uimurin liikettä yöllä."""


def looks(evidence):
    """By word its look."""
    return {word.text: evidence.types[word.type] for line in evidence.lines for word in line.words}


def likeness(one, other):
    """How alike two texts are, 0 to 1, however they are broken into lines."""
    return difflib.SequenceMatcher(None, " ".join(one.split()), " ".join(other.split()), autojunk=False).ratio()


def kinds(evidence):
    return sorted(picture.kind.value for picture in evidence.pictures)


def test_a_clean_page_is_read_without_a_fault_and_says_how_sure(paper, read_paper):
    evidence = read_paper(paper(PROSE))
    assert words_of(evidence) == PROSE.split()
    words = [word for line in evidence.lines for word in line.words]
    assert min(word.confidence for word in words) > 0.4
    others = [(word, other) for word in words for other in word.others]
    assert others
    assert all(0 <= other.place < len(word.text) and 0 < other.share <= 1 for word, other in others)
    assert all(other.text != word.text[other.place] for word, other in others)
    assert evidence.languages == ("eng",)


def test_words_keep_their_places(paper, read_paper, typeset, read):
    scanned = read_paper(paper(PROSE))
    (native,) = read(typeset(PROSE))
    for ours, theirs in zip(scanned.lines, native.lines, strict=True):
        assert ours.baseline == pytest.approx(theirs.baseline, abs=1.0)
        for word, true in zip(ours.words, theirs.words, strict=True):
            assert word.x0 == pytest.approx(true.x0, abs=2.5)
            assert word.x1 == pytest.approx(true.x1, abs=2.5)


@pytest.mark.parametrize(
    ("text", "code"), [(GERMAN, "deu"), (FINNISH, "fin"), (ROMANIAN, "ron"), (HUNGARIAN, "hun"), (CATALAN, "cat")]
)
def test_the_language_of_a_page_is_found(paper, read_paper, text, code):
    evidence = read_paper(paper(text))
    assert evidence.languages == (code,)
    assert likeness(text_of(evidence), text) > 0.99


@pytest.mark.parametrize(("text", "code"), [(RUSSIAN, "rus"), (UKRAINIAN, "ukr"), (GREEK, "ell")])
def test_text_in_another_script_is_read_in_it_and_latin_letters_within_it_too(paper, read_paper, text, code):
    evidence = read_paper(paper(f"{text} North Quay Office"))
    assert evidence.languages == (code, "eng")
    assert likeness(text_of(evidence), f"{text} North Quay Office") > 0.95


@pytest.mark.parametrize("text", [RUSSIAN, GREEK])
def test_lines_in_another_script_are_of_one_size_however_few_tall_letters_they_have(paper, read_paper, text):
    small = " ".join(word for word in text.split() if word.islower())
    evidence = read_paper(paper(f"{text}\n\n{small}\n\n{small}"))
    assert len({line.size for line in evidence.lines}) == 1


def test_a_page_upside_down_in_another_script_is_turned(paper, read_paper):
    evidence = read_paper(np.rot90(paper(RUSSIAN), 2).copy())
    assert evidence.cleaned.turn == 2
    assert words_of(evidence) == RUSSIAN.split()


def test_a_page_in_two_scripts_is_read_in_both(paper, read_paper):
    evidence = read_paper(paper("\n\n".join([PROSE, PROSE, PROSE, RUSSIAN])))
    assert evidence.languages == ("rus", "eng")
    assert words_of(evidence) == [*(PROSE.split() * 3), *RUSSIAN.split()]


def test_letters_that_touch_on_a_coarse_scan_are_letters(paper, read_paper):
    columns = f"#columns(2, gutter: 14pt)[{chr(10).join([GERMAN, ''] * 8)}]"
    page = paper(f'#set text(size: 8.5pt, font: "DejaVu Sans")\n{columns}', dpi=150)
    page = scan_effects.scanned(page, np.random.default_rng(5), blur=1.05, noise=6, specks=150)
    scan = prepared(Scan(Raster(page, 150)))
    letters = sum(map(str.isalnum, GERMAN)) * 8
    assert sum(len(line.pieces) for line in scan.segments.black.lines) > 0.9 * letters
    evidence = read_paper(page, dpi=150)
    assert len({line.size for line in evidence.lines}) == 1
    assert text_of(evidence).count(".") >= 15


def test_languages_named_by_the_clerk_are_used(paper, read_paper):
    evidence = read_paper(paper(GERMAN), Preparation(languages=("fra", "deu")))
    assert evidence.languages == ("fra", "deu")
    assert "überprüft" in text_of(evidence)


def test_a_language_without_data_is_named_with_its_package(paper, read_paper):
    with pytest.raises(LanguageMissing, match="tesseract-ocr-tlh"):
        read_paper(paper(PROSE), Preparation(languages=("tlh",)))
    with pytest.raises(LanguageMissing, match="“xxx”"):
        check_languages(["eng", "xxx"])
    assert {"eng", "deu", "fra", "spa", "ita", "por", "nld", "swe", "fin", "dan", "nor", "pol", "ces"} <= set(
        installed_languages()
    )


def test_without_any_data_the_package_is_named(monkeypatch):
    monkeypatch.setattr(reading_data, "DATA_FOLDERS", ("/nowhere",))
    monkeypatch.delenv("TESSDATA_PREFIX", raising=False)
    reading_data.data_folder.cache_clear()
    reading_data.installed_languages.cache_clear()
    try:
        with pytest.raises(LanguageMissing, match="tesseract-ocr-eng"):
            languages_to_try(())
    finally:
        reading_data.data_folder.cache_clear()
        reading_data.installed_languages.cache_clear()


def test_sizes_weights_and_slants_are_measured(paper, read_paper):
    source = (
        f"#text(18pt)[*Stilling well*]\n\n{PROSE}\n\nThe *orifice plate* was cleaned and _carefully polished_ again."
    )
    evidence = read_paper(paper(source))
    by_word = looks(evidence)
    body = by_word["hard"]
    assert body.size == pytest.approx(10, abs=1.5)
    assert by_word["Stilling"].size == pytest.approx(18, rel=0.15)
    assert by_word["Stilling"].bold
    assert by_word["orifice"].bold
    assert by_word["plate"].bold
    assert by_word["carefully"].italic
    assert by_word["polished"].italic
    assert not body.bold
    assert not body.italic
    assert len({one.size for one in by_word.values()}) == 2


@pytest.mark.parametrize(
    ("font", "family"),
    [("Libertinus Serif", Family.SERIF), ("DejaVu Sans", Family.SANS), ("DejaVu Sans Mono", Family.MONO)],
)
def test_families_are_told_apart(paper, read_paper, font, family):
    evidence = read_paper(paper(f'#set text(font: "{font}")\n{PROSE}'))
    assert {one.family for one in evidence.types} == {family}


@pytest.mark.parametrize("gap", ["0.6mm", "4mm"])
def test_arrows_before_lines_are_bullets_and_wide_letters_are_none(paper, read_paper, gap):
    items = ("spare pens for the drum", "a brush with a long handle", "we wind the clock", "m is the mark of the sill")
    source = "\n\n".join(
        f'#text(font: "DejaVu Sans", size: 9pt)[→]#h({gap}){text}' if n < 2 else text for n, text in enumerate(items)
    )
    lines = text_of(read_paper(paper(PROSE + "\n\n" + source))).splitlines()
    assert lines.count("•") == 2
    assert set(items) <= set(lines)


def test_bullets_of_any_shape_are_bullets(paper, read_paper):
    source = "\n".join(
        f"#grid(columns: (6mm, 1fr), {mark}, [{text}])"
        for mark, text in (
            ("pad(top: 0.9mm, circle(radius: 0.7mm, fill: black))", "spare pens for the drum"),
            ("pad(top: 0.9mm, square(size: 1.4mm, fill: black))", "a brush with a long handle"),
            ("pad(top: 0.8mm, circle(radius: 0.9mm, stroke: 0.6pt))", "the key of the hut"),
        )
    )
    lines = text_of(read_paper(paper(PROSE + "\n\n" + source))).splitlines()
    assert lines.count("•") == 3
    assert "spare pens for the drum" in lines


@pytest.mark.parametrize("mark", ["–", "\\*", "o", '#text(font: "DejaVu Sans")[◦]'])
def test_what_stands_before_several_lines_alike_is_their_mark(paper, read_paper, mark):
    source = "\n".join(
        f"#grid(columns: (7mm, 1fr), [{mark}], [{text}])"
        for text in ("spare pens for the drum", "a brush with a long handle", "the key of the hut")
    )
    lines = text_of(read_paper(paper(PROSE + "\n\n" + source))).splitlines()
    assert len([line for line in lines if line in ("–", "*", "•")]) == 3
    assert "spare pens for the drum" in lines


def test_marks_of_notes_stand_raised(paper, read_paper):
    evidence = read_paper(
        paper("The record was complete#super[2] until the gale of January came over the pier.\n\n" + PROSE)
    )
    (line,) = [line for line in evidence.lines if "complete" in line.text]
    (mark,) = [word for word in line.words if word.marks & Marks.SUPER]
    assert mark.text == "2"
    assert mark.glued
    assert line.text.startswith("The record was complete2 until")


def test_dots_that_lead_to_a_page_number_are_a_leader(paper, read_paper):
    source = (
        PROSE
        + "\n\n"
        + "\n\n".join(
            f"{title} #box(width: 1fr, repeat[.]) {page}"
            for title, page in (("Purpose", 2), ("State of the gauges", 14))
        )
    )
    evidence = read_paper(paper(source))
    lines = [line for line in evidence.lines if set(line.text) == {"."}]
    assert len(lines) >= 2
    assert {"2", "14"} <= {line.text for line in evidence.lines}


def test_cells_of_a_ruled_table_stay_apart_and_its_rules_are_found(paper, read_paper):
    cells = ", ".join(
        f"[{text}]" for text in ("Hour", "Height", "Wind", "06.00", "3.33", "W 4", "12.30", "4.02", "NW 3")
    )
    evidence = read_paper(paper(f"{PROSE}\n\n#table(columns: (3cm, 3cm, 3cm), {cells})"))
    texts = [line.text for line in evidence.lines]
    for cell in ("Hour", "Height", "06.00", "3.33", "12.30", "4.02", "NW 3"):
        assert cell in texts
    assert sum(rule.horizontal for rule in evidence.rules) == 4
    assert sum(not rule.horizontal for rule in evidence.rules) >= 4
    assert evidence.boxes


def test_underlined_words_are_marked_and_the_rule_is_used_up(paper, read_paper):
    evidence = read_paper(
        paper(f"{PROSE}\n\nThis is #underline(offset: 1.6pt, stroke: 0.7pt)[most important] for all.")
    )
    marked = [word.text for line in evidence.lines for word in line.words if word.marks & Marks.UNDERLINE]
    assert marked == ["most", "important"]
    assert not evidence.rules


def test_a_photograph_is_cut_out_and_not_read(paper, read_paper, tmp_path, pictures):
    from PIL import Image

    rng = np.random.default_rng(6)
    slope = np.linspace(60, 170, 400)[None, :] + rng.normal(0, 12, (260, 400))
    slope[150:, :] *= 0.5
    Image.fromarray(slope.clip(0, 255).astype(np.uint8)).save(tmp_path / "hut.png")
    evidence = read_paper(paper(f'{PROSE}\n#align(center, image("hut.png", width: 60mm))\n{PROSE}'))
    (picture,) = evidence.pictures
    assert picture.kind is PictureKind.RASTER
    assert picture.box.width == pytest.approx(60 / 25.4 * 72, abs=6)
    assert pictures.get(picture.picture)
    assert words_of(evidence) == (PROSE + " " + PROSE).split()


def test_a_drawing_keeps_its_labels(paper, read_paper):
    drawing = """#box(width: 70mm, height: 45mm, {
      place(line(start: (5mm, 40mm), end: (65mm, 40mm))); place(line(start: (5mm, 3mm), end: (5mm, 40mm)))
      place(curve(curve.move((5mm, 35mm)), curve.cubic((25mm, -10mm), (40mm, 60mm), (63mm, 8mm))))
      place(dx: 30mm, dy: 41mm, text(7pt)[hours])
    })"""
    evidence = read_paper(paper(f"{PROSE}\n\n{drawing}\n\n{PROSE}"))
    assert kinds(evidence) == ["drawing"]
    assert "hours" not in words_of(evidence)


def test_a_stamp_is_lifted_off_and_the_text_beneath_is_read(paper, read_paper):
    stamp = """#place(top + right, dy: 9mm, rotate(-8deg, circle(radius: 15mm, stroke: 1.5pt + rgb("#7b4f9d"),
      align(center + horizon, text(fill: rgb("#7b4f9d"), weight: "bold")[RECEIVED\\ 14 JAN]))))"""
    evidence = read_paper(paper(f"{stamp}\n{PROSE}\n\n{PROSE}"))
    assert kinds(evidence) == ["stamp"]
    wanted = (PROSE + " " + PROSE).split()
    assert len([word for word in words_of(evidence) if word not in wanted]) <= 5


def test_a_watermark_is_set_apart(paper, read_paper):
    mark = '#place(center + horizon, rotate(-35deg, text(54pt, fill: luma(205), weight: "bold", font: "DejaVu Sans")[COPY]))'
    evidence = read_paper(paper(f"{mark}\n{PROSE}\n\n{PROSE}"))
    assert kinds(evidence) == ["watermark"]
    assert words_of(evidence) == (PROSE + " " + PROSE).split()


@pytest.mark.parametrize(
    ("confidence", "twice", "is_print"),
    [(0.9, False, True), (0.9, True, False), (0.96, True, True), (0.8, False, False)],
)
def test_the_surer_of_two_readings_in_colour_must_be_surer_to_be_print(paper, confidence, twice, is_print):
    pixels = paper(f'{PROSE}\n\n#text(fill: rgb("#2040b0"))[The van comes at three, so cover the heap.]')
    ready = prepared(Scan(Raster(pixels, 200)))
    segments = ready.segments
    (read,) = recognised(segments, segments.coloured, ready.languages)
    words = tuple(word._replace(confidence=confidence) for word in read.words)
    raised = read.line._replace(a=read.line.a + 0.3 * read.line.x_height)  # no letter stands where print would
    marks = marks_of(segments, [], [read._replace(line=raised, words=words, twice=twice)])
    assert ([line.text for line in marks.coloured] == [read.text]) is is_print
    assert (PictureKind.HANDWRITING in [mark.kind for mark in marks.marks]) is not is_print


@pytest.mark.parametrize(("raised", "is_print"), [(0.0, True), (0.3, False)])
@pytest.mark.parametrize("colour", ["#2040b0", "#000000"])
def test_what_stands_like_print_is_print_however_unsurely_it_was_read(paper, colour, raised, is_print):
    pixels = paper(
        f'{PROSE}\n\n#text(fill: rgb("{colour}"))[#text(size: 13pt, stretch: 75%)[In all tall titles 2.175]]'
    )
    ready = prepared(Scan(Raster(pixels, 200)))
    segments = ready.segments
    layer = segments.coloured or segments.black
    read = recognised(segments, layer, ready.languages)[-1]
    words = tuple(word._replace(confidence=0.62 if segments.coloured else 0.2) for word in read.words)
    line = read.line._replace(a=read.line.a + raised * read.line.x_height)
    doubtful = [read._replace(line=line, words=words)]
    marks = marks_of(segments, [] if segments.coloured else doubtful, doubtful if segments.coloured else [])
    assert ([line.text for line in (*marks.coloured, *marks.black)] == [read.text]) is is_print


@pytest.mark.parametrize("dpi", [150, 170, 200])
def test_what_is_written_askew_is_handwriting(typeset, read_paper, dpi):
    note = "Note of the keeper: the float was found hard against the guide wire."
    pen = 'text(15pt, fill: rgb("#2244a0"), style: "italic", font: "New Computer Modern")[zqv xkw jjq]'
    path = typeset(f"{note}\n#place(bottom + left, dy: -30mm, rotate(-6deg, {pen}))")
    evidence = read_paper(scan_effects.printed(scan_effects.drawn(path, 1, dpi), np.random.default_rng(8)), dpi=dpi)
    assert kinds(evidence) == ["handwriting"]
    assert words_of(evidence) == note.split()


def test_a_number_between_dashes_is_read(paper, read_paper):
    page = paper(f'{PROSE}\n\n#align(center)[#set text(font: "DejaVu Sans", size: 8pt)\n\\- 2 \\- ]', dpi=150)
    evidence = read_paper(page, dpi=150)
    assert evidence.lines[-1].text == "– 2 –"
    assert not evidence.pictures
    assert not evidence.equations


def test_coloured_print_is_text_with_its_colour(paper, read_paper):
    evidence = read_paper(
        paper(f'{PROSE}\n\n#text(fill: rgb("#b02020"))[Danger: the ladder is rotten below the third step.]')
    )
    assert not evidence.pictures
    color = looks(evidence)["ladder"].color
    assert color is not None
    assert int(color[:2], 16) > int(color[2:4], 16) + 60
    assert looks(evidence)["float"].color is None


def test_a_signature_is_a_picture_in_its_place(paper, read_paper, tmp_path):
    from PIL import Image, ImageDraw

    image = Image.new("RGB", (520, 150), "white")
    points = [(20 + 4.8 * t, 75 - 38 * np.exp(-t / 70) * np.sin(t / 3.1) - 16 * np.sin(t / 8)) for t in range(100)]
    ImageDraw.Draw(image).line(points, fill="black", width=4)
    image.save(tmp_path / "hand.png")
    source = f'{PROSE}\n\nYours faithfully,\n\n#image("hand.png", width: 38mm)\n\nTobiah Renn'
    evidence = read_paper(paper(source))
    assert kinds(evidence) == ["signature"]
    assert words_of(evidence) == [*PROSE.split(), "Yours", "faithfully,", "Tobiah", "Renn"]


def test_a_blank_page_is_kept_and_said_so(read_paper):
    blank = scan_effects.scanned(
        scan_effects.printed(np.full((1654, 1169, 3), 255, np.uint8), np.random.default_rng(1)),
        np.random.default_rng(2),
    )
    evidence = read_paper(blank)
    assert [remark.kind for remark in evidence.remarks] == [RemarkKind.BLANK]
    assert not evidence.lines
    assert not evidence.pictures


@pytest.mark.parametrize("dpi", [110, 300, 600])
def test_resolutions_from_coarse_to_fine(paper, read_paper, dpi):
    evidence = read_paper(paper(PROSE, dpi=dpi), dpi=dpi)
    assert evidence.width == pytest.approx(419.5, abs=1.5)
    assert len(set(PROSE.split()) - set(words_of(evidence))) <= (4 if dpi < 150 else 0)


def test_coloured_lines_that_are_level_are_print_whatever_stands_among_them(paper, read_paper):
    red = 'rgb("#b03030")'
    source = (
        f"{PROSE}\n\n#text(fill: {red})[{PROSE}]\n#v(-2mm)\n#rect(width: 70mm, height: 4mm, fill: {red})\n\n{PROSE}"
    )
    evidence = read_paper(paper(source))
    assert len(words_of(evidence)) >= 3 * len(PROSE.split()) - 2
