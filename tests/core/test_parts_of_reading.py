"""Parts of reading that need no page: what a document is called, likeness of two readings, sizes over pages, regions."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from evenquill.core.equations.tex import tex
from evenquill.core.evidence import Cleaned, Line, PageEvidence, PageKind, TextLayer, Type, Word
from evenquill.core.languages import KNOWN, detect_language, long_code, short_code
from evenquill.core.model import Box, Family, RemarkKind
from evenquill.core.page_kinds import kinds_in_words
from evenquill.core.reading.plausibility import known_words
from evenquill.core.reading.preparation import Preparation
from evenquill.core.reading.sizing import likeness
from evenquill.core.rebuild.smoothing import with_smooth_sizes
from evenquill.core.region_reading import cleaned_scan, native_scan, read_equation_in, read_region
from evenquill.desk.reading_routes import steps_in_words
from evenquill.desk.strips import box_as_it_came

WAS_CLEANED = Cleaned("5" * 64, "image/jpeg")


def line(text: str, size: float = 10.0, top: float = 100.0) -> Line:
    words, x = [], 50.0
    for word in text.split():
        words.append(Word(word, x, x + 6 * len(word), 0))
        x += 6 * len(word) + 4
    return Line(Box(50, top, x, top + size), top + 0.8 * size, size, tuple(words))


def page(*lines: Line, number: int = 1, size: float = 10.0, **more) -> PageEvidence:
    return PageEvidence(number, 420, 595, types=(Type("Serif", Family.SERIF, size),), lines=lines, **more)


def scanned(layer: TextLayer = TextLayer.NONE) -> PageEvidence:
    return page(kind=PageKind.SCANNED, layer=layer)


@pytest.mark.parametrize(
    ("pages", "words"),
    [
        ([page(), page()], "native"),
        ([scanned(), scanned()], "scanned, no text"),
        ([scanned(TextLayer.BELIEVED)], "scanned by a machine that added its own text"),
        ([scanned(TextLayer.DROPPED), scanned()],
         "scanned by a machine that added its own text, which does not fit and was dropped"),
        ([page(), scanned(), page()], "mixed: 1 of 3 pages scanned, no text"),
    ],
)  # fmt: skip
def test_what_a_document_is_is_said_in_words(pages, words):
    assert kinds_in_words(pages) == words


def test_two_readings_are_alike_by_their_words_whatever_their_order():
    one = page(line("The float was found hard"), line("against the guide wire"))
    turned = page(line("against the guide wire"), line("The float was found hard"))
    assert likeness(one, turned) == 1.0
    near = page(line("The fIoat was found hard"), line("againsl the guide wire"))
    assert 0.8 < likeness(one, near) < 1.0
    other = page(line("Xqz vvk plm oop"), line("zzz yyy"))
    assert likeness(one, other) < 0.2
    assert likeness(one, page()) == 0.0


def test_a_text_makes_more_sense_than_its_letters_read_as_others():
    russian = (
        "Смотритель каждый час записывал высоту воды в книгу и сравнивал показания часов с сигналом времени",
        "Колодец был осушен и очищен от водорослей, после чего поплавок снова подвесили на новой проволоке",
    )
    misread = (
        "CMoTpuTeN KaxKAbIN Yac 3anucbIBan BbICOTy BoAbI B KHUTY u cpaBHuBaN noka3aHuA YacoB c CurHanoM BpeMeHu",
        "Konogeu 6bin ocylleH u oumuleH oT BoAopocnen, nocne uero nonnaBok cHoBa noABecunu Ha HoBon npoBonoke",
    )
    assert known_words(page(*map(line, russian))).share > 0.8
    assert known_words(page(*map(line, misread))).share < 0.4
    english = ("The keeper wrote down what the gauge had shown", "and the office kept what he had written down")
    assert known_words(page(*map(line, (*english, *russian)))).share > 0.8  # each script has its own language
    assert known_words(page(line("too few to tell"))).share == 0.0
    rubble = page(*map(line, ("the of and MD TI", "VD for NN not H", "was W Ss EE")))
    assert known_words(rubble).share > known_words(page(*map(line, russian))).share * 0.9
    assert known_words(rubble).letters < known_words(page(*map(line, russian))).letters / 2


def test_sizes_of_scanned_pages_are_made_one_over_the_document():
    pages = [
        page(line("a long line of body text on the first page", 10.0), size=10.0, cleaned=WAS_CLEANED),
        page(line("another of it on the second", 10.5), number=2, size=10.5, cleaned=WAS_CLEANED),
        page(line("Heading", 16.0), number=3, size=16.0, cleaned=WAS_CLEANED),
        page(line("native text", 10.5), number=4, size=10.5),
    ]
    first, second, heading, native = with_smooth_sizes(pages)
    assert (first.lines[0].size, second.lines[0].size, heading.lines[0].size) == (10.0, 10.0, 16.0)
    assert second.types[0].size == 10.0
    assert native is pages[3]


def test_what_cleaning_did_is_said_in_words():
    done = replace(WAS_CLEANED, turn=3, skew=-1.26, sheet=True, curl=True, light=True, darkened=True, specks=1)
    steps = steps_in_words(page(cleaned=done))
    assert steps == (
        "sheet found in the photo and flattened",
        "turned to the left",
        "straightened by 1.3 degrees",
        "curved lines made level",
        "light evened out",
        "faint print darkened",
        "1 speck taken off",
    )
    assert steps_in_words(page(cleaned=replace(WAS_CLEANED, turn=2, specks=40))) == (
        "turned upside down",
        "40 specks taken off",
    )
    assert steps_in_words(page()) == ()


def test_a_box_of_the_cleaned_page_is_found_on_the_page_as_it_came():
    quarter = replace(WAS_CLEANED, to_source=(0.0, 1.0, 0.0, -1.0, 0.0, 400.0, 0.0, 0.0, 1.0))
    assert box_as_it_came(Box(10, 20, 110, 40), quarter) == Box(20, 290, 40, 390)
    smaller = replace(WAS_CLEANED, to_source=(0.5, 0.0, 5.0, 0.0, 0.5, 0.0, 0.0, 0.0, 1.0))
    assert box_as_it_came(Box(10, 20, 110, 40), smaller) == Box(10, 10, 60, 20)


def test_remarks_learn_the_page_s_number_when_they_are_told():
    told = page(number=1).remarked(RemarkKind.BLANK, "Page {page} is blank.")
    assert [remark.sentence for remark in replace(told, number=7).page_remarks()] == ["Page 7 is blank."]
    assert [remark.page for remark in replace(told, number=7).page_remarks()] == [7]


def test_languages_have_a_short_and_a_long_code_and_are_told_by_their_words():
    assert all(long_code(one.short) == one.code and short_code(one.code) == one.short for one in KNOWN)
    assert (short_code("tlh"), long_code("no")) == ("tlh", "nor")
    assert detect_language("Die Höhe des Wassers wurde überprüft und für genügend befunden.").language.code == "deu"
    assert (
        detect_language("Vedenkorkeus tarkistettiin ja todettiin riittäväksi koko viikon ajalta.").language.code
        == "fin"
    )


def test_a_region_is_read_without_the_lines_beside_it(typeset):
    import pypdfium2 as pdfium

    source = (
        "First line of all.\\ The float was found hard against the guide-\\ wire on the stairs.\\ Last line of all."
    )
    scan = native_scan(pdfium.PdfDocument(typeset(source)), 1)
    top, leading = 51.0, 13.2
    middle = Box(51, top + leading - 1, 369, top + 3 * leading - 4)
    read = read_region(scan, [middle], Preparation(languages=("eng",)), number=3)
    assert read.text == "The float was found hard against the guidewire on the stairs."
    words = {read.text[word.start : word.end]: word for word in read.words}
    assert set(words) == set(read.text.split())
    assert all(middle.holds(word.box, slack=4) and word.page == 3 for word in read.words)
    assert [word.start for word in read.words if word.end == words["guidewire"].end] == [words["guidewire"].start] * 2
    assert read_region(scan, [Box(0, 0, 0.1, 0.1)], Preparation(languages=("eng",))).text == ""


def test_a_region_is_read_as_an_equation(typeset):
    import pypdfium2 as pdfium

    # By hand: whatever is in the region is the equation, on a page of any kind.
    scan = native_scan(pdfium.PdfDocument(typeset("#v(20mm)\n$ tau = A / a sqrt(L / (2 g)) $\n#v(10mm)\nThe end.")), 1)
    place = Box(150, 90, 270, 150)
    found = read_equation_in(scan, place, Preparation(languages=("eng",)))
    assert found is not None
    assert tex(found.tree) == r"\tau=\frac{A}{a}\sqrt{\frac{L}{2g}}"
    assert 0.5 < found.sure <= 1
    assert read_equation_in(scan, Box(20, 300, 120, 340), Preparation(languages=("eng",))) is None
    assert read_equation_in(scan, Box(0, 0, 0.1, 0.1), Preparation(languages=("eng",))) is None


def test_a_region_may_be_read_as_a_table(typeset):
    import pypdfium2 as pdfium

    cells = "[North], [2.31], [2.45], [South], [2.28], [2.40]"
    table = f"#table(columns: (30mm, 20mm, 20mm), stroke: none, inset: 0pt, row-gutter: 5pt, {cells})"
    scan = native_scan(pdfium.PdfDocument(typeset(table)), 1)
    region, preparation = [Box(48, 45, 300, 90)], Preparation(languages=("eng",))
    rows = read_region(scan, region, preparation, number=2, as_table=True)
    assert rows.text == "North\t2.31\t2.45\nSouth\t2.28\t2.40"
    assert [rows.text[word.start : word.end] for word in rows.words] == rows.text.split()
    assert 28 < rows.tabs[0].at < 85  # between the columns
    assert read_region(scan, region, preparation).text == rows.text.replace("\n", " ")
    assert read_region(scan, region, preparation).tabs == ()
    assert read_region(scan, [Box(0, 0, 0.1, 0.1)], preparation, as_table=True).text == ""


def test_the_kept_picture_of_a_page_knows_its_resolution(tmp_path):
    from PIL import Image

    Image.new("L", (840, 1190), 240).save(tmp_path / "kept.jpg")
    scan = cleaned_scan(tmp_path / "kept.jpg", 420.0)
    assert scan.raster.dpi == pytest.approx(144)
    assert scan.raster.pixels.shape == (1190, 840, 3)
