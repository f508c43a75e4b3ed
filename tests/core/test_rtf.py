"""RTF: complete for an independent reader, whatever letters stand in the text."""

from __future__ import annotations

import json
import re

import pypandoc
import pytest
from msgspec.structs import replace
from test_docx_reading import styled
from test_formats import AWKWARD, DOCUMENT, SIGNS, picture_bytes, strings, text, words_of

from evenquill.core.equations.tex_reader import read_tex
from evenquill.core.model import Document, Equation, InlinePicture
from evenquill.core.writers.rtf import write_rtf


def written(document: Document = DOCUMENT) -> str:
    return write_rtf(document, lambda _: picture_bytes()).decode("ascii")


def by_pandoc(document: Document, to: str) -> str:
    return pypandoc.convert_text(written(document), to, format="rtf", extra_args=["--wrap=none"])


def test_an_independent_reader_finds_all_words_and_nothing_is_taken_for_codes():
    found = [word for said in strings(json.loads(by_pandoc(DOCUMENT, "json"))) for word in words_of(said)]
    joined = " ".join(found)
    for sentence in (
        "Gauges of the north", "The float was hard against", "wire", SIGNS, *AWKWARD, "Loud and quiet", "first", "within", "second",
        "lettered", "One line", "another line", "Said long ago", "14 March", "North pier", "2 31", "Figure 1 A sheet",
        "Found by the keeper",
    ):  # fmt: skip
        assert " ".join(words_of(sentence)) in joined, sentence
    assert "Set aside" not in joined


def test_what_things_are_is_kept():
    said = by_pandoc(DOCUMENT, "markdown")
    for wanted in ("**float**", "*hard*", "Found by the keeper.", "https://skerrin.example/wire?a=1&b=2"):
        assert wanted in said
    assert re.search(r"^ *\|? *Gauge.*May.*June", said, re.MULTILINE)
    assert "[^1]" in said


@pytest.mark.parametrize(
    "letters", ["Höhe über Null: 3 m", "Łódź — „Pegel“", "Πέμπτη", "звено", "潮位", r"a\b{c}d", "50\u00a0cm"]
)
def test_letters_of_any_script_and_codes_in_the_text_come_through(letters):
    document = replace(DOCUMENT, blocks=(text("p", letters),))
    assert by_pandoc(document, "plain").strip().replace("\u00a0", " ") == letters.replace("\u00a0", " ")


def test_letters_beyond_sixteen_bits_are_written_in_halves():
    assert "\\u-10180\\'3f\\u-8438\\'3f wave" in written(replace(DOCUMENT, blocks=(text("p", "🌊 wave"),)))


def balance(said: str) -> int:
    """Groups that are opened and not closed."""
    bare = re.sub(r"\\[\\{}]", "", said)
    return bare.count("{") - bare.count("}")


@pytest.mark.parametrize("document", [DOCUMENT, styled(), Document()], ids=["all kinds", "styles and pages", "nothing"])
def test_groups_are_closed_and_all_is_ascii(document):
    said = written(document)
    assert said.isascii()
    assert said.startswith("{\\rtf1")
    assert balance(said) == 0


def test_styles_pages_and_running_heads_are_written():
    said = written(styled())
    assert re.search(r"\\s1\\q[lj][^}]*\\outlinelevel1[^}]*\\fs28\\b Heading 2;", said)
    assert "\\pgwsxn10000\\pghsxn14000" in said
    assert "\\cols2" in said
    assert "\\titlepg" in said
    assert re.search(r"\\header \\pard.*Gauges\\tab page \{\\field\{\\\*\\fldinst PAGE\}", said)
    assert "\\pgnstarts7" in said
    assert "\\pgnlcrm" in said


def test_lists_are_lists_and_show_their_labels_where_lists_are_not_known():
    said = written()
    assert "\\listtable" in said
    labels = re.findall(r"\{\\listtext ([^\\]*)\\tab\}", said)
    assert [label for label in labels if label.isascii()] == ["3.", "4.", "(b)"]
    assert said.count("\\ls1") == 4  # three items, and where it is defined


def test_cells_that_span_are_merged():
    said = written()
    assert said.count("\\row\n") == 2
    assert said.count("\\trhdr") == 1
    assert said.count("\\cell\n") == 4


def test_pictures_and_formulas_are_pictures():
    sign = InlinePicture("ab" * 32, "image/png", 12, 6, alt="a sign")
    document = replace(DOCUMENT, blocks=(text("p", "See ", Equation(read_tex("x^2")), " ", sign),))
    pictures = re.findall(
        r"\\pict\\pngblip\\picw(\d+)\\pich(\d+)\\picwgoal(\d+)\\pichgoal(\d+)\n([0-9a-f]+)", written(document)
    )
    assert len(pictures) == 2
    assert bytes.fromhex(pictures[1][4]) == picture_bytes()
    assert pictures[1][2:4] == ("240", "120")
    assert bytes.fromhex(pictures[0][4]).startswith(b"\x89PNG")
