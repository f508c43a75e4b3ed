"""Typefaces that stand for others: with letters as wide, where there is such a one."""

from __future__ import annotations

import io
import json
import zipfile

import letter_widths
import pikepdf
import pytest
from msgspec.structs import replace
from test_formats import text

from evenquill.core.edits import SetStandIn, apply, undo
from evenquill.core.errors import EditError
from evenquill.core.measured_typefaces import measured_stand_ins
from evenquill.core.model import Document, Family, Lettering, ParagraphStyle, StandIn, Text
from evenquill.core.typefaces import faces_for, stand_ins, stand_ins_with, typeface_uses
from evenquill.core.writers.docx import write_docx
from evenquill.core.writers.odt import write_odt
from evenquill.core.writers.pdf import write_pdf
from evenquill.core.writers.registry import WRITERS


@pytest.mark.parametrize(
    ("name", "family", "stands"),
    [
        ("Times New Roman", Family.SERIF, "Liberation Serif"),
        ("NimbusRomNo9L-Regu", Family.SERIF, "Liberation Serif"),
        ("ArialMT", Family.SANS, "Liberation Sans"),
        ("Helvetica Neue", Family.SANS, "Liberation Sans"),
        ("CourierNewPSMT", Family.MONO, "Liberation Mono"),
        ("Calibri", Family.SANS, "Carlito"),
        ("Cambria", Family.SERIF, "Caladea"),
        ("Latin Modern Roman", Family.SERIF, "New Computer Modern"),
        ("Skerrin Grotesk", Family.SANS, "Liberation Sans"),
        ("", Family.SERIF, "Libertinus Serif"),
    ],
)
def test_the_nearest_stands_for_what_is_not_at_hand(name, family, stands):
    first, *others = faces_for(name, family)
    assert first == (name or stands)
    assert not name or others[0] == stands


def fonts_in(pdf: bytes) -> set[str]:
    with pikepdf.open(io.BytesIO(pdf)) as file:
        return {
            str(font.BaseFont).partition("+")[2].partition("-")[0]
            for page in file.pages
            for font in page.Resources.get("/Font", {}).values()
        }


def document(font: str, family: Family = Family.SERIF) -> Document:
    style = ParagraphStyle("Body text", font=font, family=family)
    return Document(styles=(style,), blocks=(text("p", "The float was found."),))


@pytest.mark.parametrize(
    ("font", "face"), [("Times New Roman", "LiberationSerif"), ("Calibri", "Carlito"), ("Cambria", "Caladea")]
)
def test_pages_are_set_in_it(font, face):
    assert fonts_in(write_pdf(document(font), lambda _: b"")) == {face}


def test_what_stands_for_what_is_listed_and_what_is_at_hand_is_not():
    at_hand = ["Liberation Serif", "libertinus serif"]
    assert stand_ins(document("Times New Roman"), at_hand) == (StandIn("Times New Roman", "Liberation Serif"),)
    assert stand_ins(document("Libertinus Serif"), at_hand) == ()
    assert stand_ins(document(""), at_hand) == ()


def test_another_one_is_chosen_and_undone():
    start = document("Skerrin Roman")
    edit = apply(start, SetStandIn("skerrin roman", "Caladea"))
    assert undo(edit.document, edit.inverse) == start
    (use,) = typeface_uses(edit.document)
    assert (use.name, use.count, use.chosen) == ("Skerrin Roman", 1, "Caladea")
    assert use.faces[:2] == ("Skerrin Roman", "Caladea")
    assert apply(edit.document, SetStandIn("Skerrin Roman")).document == start
    for name, stands, why in (
        ("", "Caladea", "no typeface"),
        ("Caladea", "caladea", "no typeface"),
        ("Skerrin Roman", "", "so already"),
    ):
        with pytest.raises(EditError, match=why):
            apply(start, SetStandIn(name, stands))


def test_what_was_chosen_is_in_every_format_behind_the_name_of_the_source():
    chosen = apply(document("Skerrin Roman"), SetStandIn("Skerrin Roman", "Caladea")).document
    assert fonts_in(write_pdf(chosen, lambda _: b"")) == {"Caladea"}
    table = zipfile.ZipFile(io.BytesIO(write_docx(chosen, lambda _: b""))).read("word/fontTable.xml").decode()
    assert '<w:font w:name="Skerrin Roman"><w:altName w:val="Caladea"/><w:family w:val="roman"/>' in table
    assert (
        "'Skerrin Roman', 'Caladea'"
        in zipfile.ZipFile(io.BytesIO(write_odt(chosen, lambda _: b""))).read("content.xml").decode()
    )
    assert r"Skerrin Roman{\*\falt Caladea};" in WRITERS["rtf"].write(chosen, lambda _: b"", ()).decode()
    assert '"Skerrin Roman", "Caladea"' in WRITERS["html"].write(chosen, lambda _: b"", ()).decode()


def lettered(*fonts: str) -> Document:
    """A row in a serif and one in a sans style, each with words in typefaces of their own."""
    words = tuple(Text(f" {font} here", lettering=Lettering(font=font)) for font in fonts)
    styles = (
        ParagraphStyle("Body text", font="Skerrin Roman"),
        ParagraphStyle("Aside", font="Arial", family=Family.SANS),
    )
    first, second = text("p", "The float"), text("q", "The well")
    rows = (
        replace(first, content=(*first.content, *words)),
        replace(second, content=(*second.content, *words), style="Aside"),
    )
    return Document(styles=styles, blocks=rows)


def test_a_typeface_in_rows_of_several_families_is_listed_once_with_those_of_its_own():
    uses = {use.name: use for use in typeface_uses(lettered("Wendle Mono", "Arial"))}
    assert [(use.name, use.family, use.count) for use in uses.values()] == [
        ("Wendle Mono", Family.MONO, 2), ("Arial", Family.SANS, 2), ("Skerrin Roman", Family.SERIF, 1),
    ]  # fmt: skip
    assert uses["Wendle Mono"].faces[1] == "Liberation Mono"


def test_words_in_a_typeface_of_their_own_are_set_in_what_stands_for_it():
    chosen = apply(lettered("Skerrin Script"), SetStandIn("Skerrin Script", "Caladea")).document
    assert "Caladea" in fonts_in(write_pdf(chosen, lambda _: b""))
    assert 'font-family: "Skerrin Script", "Caladea"' in WRITERS["html"].write(
        chosen, lambda _: b"", ()
    ).decode().replace("&quot;", '"')


SET_IN = """#set page(width: 420pt, height: 500pt, margin: 40pt)
#set text(font: "FACE", size: 11pt)
The keeper of the light wrote down each evening what the gauge had shown since morning, and when the boat from the
northern islands came in he added the soundings that her master had taken among the banks, with the hour of each.
"""


@pytest.mark.parametrize(
    ("face", "family", "nearest"),
    [
        ("New Computer Modern", Family.SERIF, "New Computer Modern"),
        ("Libertinus Serif", Family.SERIF, None),
        ("DejaVu Sans Mono", Family.MONO, None),
    ],
)
def test_a_typeface_that_nobody_knows_is_stood_for_by_the_one_with_letters_as_wide(
    face, family, nearest, typeset, rebuilt
):
    document = rebuilt(typeset(SET_IN.replace("FACE", face), paper="a5"))
    unknown = [replace(style, font="Quayside" if style.font else None, family=family) for style in document.styles]
    document = replace(document, styles=tuple(unknown))
    assert measured_stand_ins(document) == ((StandIn("Quayside", nearest),) if nearest else ())


def test_nothing_is_measured_of_known_typefaces_and_few_words(typeset, rebuilt):
    document = rebuilt(typeset(SET_IN.replace("FACE", "New Computer Modern")))
    called = [replace(style, font="Times New Roman" if style.font else None) for style in document.styles]
    assert measured_stand_ins(replace(document, styles=tuple(called))) == ()
    few = rebuilt(typeset('#set text(font: "New Computer Modern")\nThe light was lit.'))
    called = [replace(style, font="Quayside" if style.font else None) for style in few.styles]
    assert measured_stand_ins(replace(few, styles=tuple(called))) == ()


def test_what_the_office_chose_goes_before_what_was_measured():
    measured, chosen = StandIn("Quayside", "Caladea"), StandIn("quayside", "Carlito")
    assert stand_ins_with((chosen,), (measured, StandIn("Boat", "Caladea"))) == (chosen, StandIn("Boat", "Caladea"))


def test_the_table_of_widths_is_that_of_the_typefaces_at_hand():
    kept = json.loads(letter_widths.TARGET.read_text())
    assert {face: letter_widths.widths_in(face) for face in ("Libertinus Serif", "New Computer Modern")} == {
        face: kept[face] for face in ("Libertinus Serif", "New Computer Modern")
    }
