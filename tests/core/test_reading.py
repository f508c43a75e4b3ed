"""What the native reader finds on a page."""

from __future__ import annotations

import io

import pikepdf
import pytest
from pdf_parts import written
from PIL import Image

from evenquill.core.evidence import PictureKind
from evenquill.core.font_names import family_name
from evenquill.core.model import Family, Marks, UrlLink
from evenquill.core.reading.native.typefaces import typeface_of


def words_of(page, text):
    return [word for line in page.lines for word in line.words if text in word.text]


def test_words_have_their_place_size_weight_slant_and_colour(typeset, read):
    path = typeset('#v(20mm)Plain *heavy* _slanted_ #text(size: 14pt, fill: rgb("#aa2200"))[Large]')
    (page,) = read(path)
    (plain,), (heavy,) = words_of(page, "Plain"), words_of(page, "heavy")
    (slanted,), (large,) = words_of(page, "slanted"), words_of(page, "Large")
    assert plain.x0 == pytest.approx(18 * 72 / 25.4, abs=1.5)
    assert plain.x1 < heavy.x0
    assert not page.types[plain.type].bold
    assert page.types[heavy.type].bold
    assert page.types[slanted.type].italic
    assert page.types[large.type].size == 14
    assert page.types[large.type].color == "aa2200"
    assert page.types[plain.type].color is None


def test_super_and_subscripts_are_part_of_their_line(typeset, read):
    (page,) = read(
        typeset("Water is H#sub(typographic: false)[2]O and an area is m#super(typographic: false)[2] here.")
    )
    (line,) = page.lines
    assert line.text == "Water is H2O and an area is m2 here."
    assert [Marks(word.marks) for word in line.words if word.text == "2"] == [Marks.SUB, Marks.SUPER]


def test_underlined_and_struck_words_are_marked_and_their_rules_used_up(typeset, read):
    (page,) = read(typeset("One #underline[two] three #strike[four] five."))
    marks = {word.text: Marks(word.marks) for line in page.lines for word in line.words}
    assert marks["two"] == Marks.UNDERLINE
    assert marks["four"] == Marks.STRIKE
    assert marks["three"] == Marks.NONE
    assert not page.rules


def test_sides_of_cells_that_are_drawn_piece_by_piece_are_no_lines_under_words(typeset, read):
    side = "rect(width: {}, height: 0.5pt, fill: black)"
    upright = "#place(dx: {}, rect(width: 0.5pt, height: {}, fill: black))"
    level = "".join(
        f"#place(dx: {x}pt, dy: {y}pt, {side.format(f'{w}pt')})" for y in (0, 12, 24) for x, w in ((0, 52), (52, 80))
    )
    uprights = "".join(upright.format(f"{x}pt", "12pt" if x == 52 else "24pt") for x in (0, 52, 132))
    texts = ((2, 3, "(0040,A032)"), (56, 3, "At low tide"), (2, 15, "Kept by those who kept gauges"))
    words = "".join(f"#place(dx: {x}pt, dy: {y}pt)[{text}]" for x, y, text in texts)
    (page,) = read(typeset(level + uprights + words))
    assert not any(word.marks for line in page.lines for word in line.words)
    assert len(page.rules) == 9


def test_letterspaced_words_stay_whole(typeset, read):
    (page,) = read(typeset("#text(tracking: 3pt)[Keepers of the gauge]"))
    assert page.lines[0].text == "Keepers of the gauge"


def test_a_raster_picture_is_kept_at_its_own_resolution(typeset, read, pictures, tmp_path):
    out = io.BytesIO()
    Image.effect_noise((640, 400), 60).convert("RGB").save(out, "JPEG")
    (tmp_path / "pier.jpg").write_bytes(out.getvalue())
    (page,) = read(typeset('Above\n#image("pier.jpg", width: 60mm)\nBelow'))
    (picture,) = page.pictures
    assert picture.kind is PictureKind.RASTER
    assert Image.open(io.BytesIO(pictures.get(picture.picture))).size == (640, 400)
    assert picture.box.width == pytest.approx(60 * 72 / 25.4, abs=0.5)


def test_a_drawing_becomes_a_picture_and_its_labels_go_with_it(typeset, read):
    drawing = """Text before.
#box(width: 80mm, height: 40mm, {
  place(curve(stroke: 1pt, curve.move((0mm, 30mm)), curve.cubic((20mm, 0mm), (50mm, 60mm), (80mm, 10mm))))
  place(line(start: (0mm, 35mm), end: (80mm, 35mm)))
  place(dx: 30mm, dy: 20mm, text(6pt)[metres])
})

Text after."""
    (page,) = read(typeset(drawing))
    (picture,) = page.pictures
    assert picture.kind is PictureKind.DRAWING
    assert picture.words == "metres"
    assert [line.text for line in page.lines] == ["Text before.", "Text after."]


def test_a_rounded_frame_around_text_is_not_a_drawing(typeset, read):
    prose = "The float was found hard against the guide wire, and the trace is lost. " * 4
    (page,) = read(typeset(f"#rect(radius: 4pt, stroke: 1pt)[{prose}]"))
    assert not page.pictures
    assert sum(len(line.words) for line in page.lines) == len(prose.split())


def test_links_are_tied_to_their_words_and_scripts_are_not_links(typeset, read, tmp_path):
    path = typeset(
        'Ask at #link("https://gauges.skerrin.example/a")[this place] or #link("mailto:a@b.example")[write].'
    )
    (page,) = read(path)
    addresses = {
        word.text: page.links[word.link].target for line in page.lines for word in line.words if word.link is not None
    }
    assert addresses == {
        "this": UrlLink("https://gauges.skerrin.example/a"),
        "place": UrlLink("https://gauges.skerrin.example/a"),
        "write.": UrlLink("mailto:a@b.example"),
    }
    with pikepdf.open(path) as pdf:
        for annotation in pdf.pages[0].Annots:
            annotation.A = pikepdf.Dictionary(S=pikepdf.Name.URI, URI=pikepdf.String("javascript:alert(1)"))
        pdf.save(tmp_path / "sly.pdf")
    assert read(tmp_path / "sly.pdf")[0].links == ()


@pytest.mark.parametrize("turn", [90, 180, 270])
def test_a_turned_page_is_read_as_it_is_looked_at(typeset, read, tmp_path, turn):
    path = typeset("Water stood high at noon.")
    (upright,) = read(path)
    with pikepdf.open(path) as pdf:
        pdf.pages[0].Rotate = turn
        pdf.save(tmp_path / "turned.pdf")
    (page,) = read(tmp_path / "turned.pdf")
    assert (page.width, page.height) == (
        (upright.height, upright.width) if turn != 180 else (upright.width, upright.height)
    )
    (line,) = page.lines
    assert line.text == "Water stood high at noon."
    assert line.angle == (360 - turn) % 360
    assert 0 <= line.box.x0 < line.box.x1 <= page.width
    assert 0 <= line.box.y0 < line.box.y1 <= page.height


def test_a_ligature_is_two_letters(typeset, read):
    (page,) = read(typeset("office affluent fish"))
    assert page.lines[0].text == "office affluent fish"


@pytest.mark.parametrize(
    ("name", "family", "kind", "bold", "italic"),
    [
        ("ABCDEF+LiberationSerif-BoldItalic", "Liberation Serif", Family.SERIF, True, True),
        ("Carlito", "Carlito", Family.SANS, False, False),
        ("CMTT10", "Latin Modern Mono", Family.MONO, False, False),
        ("CMBX12", "Latin Modern Roman", Family.SERIF, True, False),
        ("CMSLTT10", "Latin Modern Mono", Family.MONO, False, True),
        ("SFST1000", "Latin Modern Mono", Family.MONO, False, True),
        ("SFRB1000", "Latin Modern Roman", Family.SERIF, True, False),
        ("SFBL1200", "Latin Modern Roman", Family.SERIF, True, True),
        ("SFSO1440", "Latin Modern Sans", Family.SANS, True, True),
        ("SFTI0900", "Latin Modern Roman", Family.SERIF, False, True),
        ("DejaVuSansMono", "DejaVu Sans Mono", Family.MONO, False, False),
        ("TimesNewRomanPS-BoldItalicMT", "Times New Roman", Family.SERIF, True, True),
        ("ABCDEF+TimesNewRomanPSMT", "Times New Roman", Family.SERIF, False, False),
        ("NimbusRomNo9L-ReguItal", "Nimbus Rom No9L", Family.SERIF, False, True),
        ("CenturySchoolbook", "Century Schoolbook", Family.SERIF, False, False),
        ("TeXGyreTermes-Regular", "TeX Gyre Termes", Family.SERIF, False, False),
        ("EBGaramond-Italic", "EB Garamond", Family.SERIF, False, True),
        ("LMSans10-Bold", "Latin Modern Sans", Family.SANS, True, False),
    ],
)
def test_font_names_tell_family_weight_and_slant(name, family, kind, bold, italic):
    face = typeface_of(name, 0, 0, 0)
    assert (face.font, face.family, face.bold, face.italic) == (family, kind, bold, italic)
    assert family_name(name.split("+")[-1]) == family


def test_a_sign_set_a_little_lower_stays_in_its_line(typeset, read):
    (page,) = read(typeset("The pattern is #text(baseline: 2.2pt)[\\*]\\.diff in the file."))
    (line,) = page.lines
    assert line.text == "The pattern is *.diff in the file."


def test_letters_that_a_page_sets_each_by_itself_are_words(tmp_path, read):
    widths = {"m": 833, "i": 222, "l": 222, " ": 278, "t": 278, "r": 333}  # of Helvetica, in thousandths of an em
    x, shown = 60.0, []
    for letter in "the mill at the pier ran all night":
        shown.append(f"BT /F 12 Tf 1 0 0 1 {x:.2f} 700 Tm ({letter}) Tj ET" if letter != " " else "")
        x += 12 * widths.get(letter, 556) / 1000
    written(tmp_path / "letters.pdf", "\n".join(shown).encode())
    (page,) = read(tmp_path / "letters.pdf")
    (line,) = page.lines
    assert [word.text for word in line.words] == ["the", "mill", "at", "the", "pier", "ran", "all", "night"]


def test_small_text_set_close_under_a_large_line_is_a_line_of_its_own(typeset, read):
    cells = "#grid(columns: (40mm, 40mm, 40mm), [Bound], [45396], [Model of the pier])"
    (page,) = read(typeset(f"#text(size: 24pt)[A Gauge of Quality 81297]\n#v(-23pt)\n{cells}"))
    texts = [line.text for line in sorted(page.lines, key=lambda line: (line.baseline, line.box.x0))]
    assert texts == ["A Gauge of Quality 81297", "Bound", "45396", "Model of the pier"]
