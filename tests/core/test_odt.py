"""OpenDocument text: complete for an independent reader, with styles, lists, tables, notes, pages and formulas as what they are."""

from __future__ import annotations

import io
import json
import re
import subprocess
import sys
import zipfile

import pypandoc
import pytest
from lxml import etree
from msgspec.structs import replace
from test_docx_reading import styled
from test_formats import AWKWARD, DOCUMENT, SIGNS, item, picture_bytes, strings, text, words_of

from evenquill.core.equations.tex_reader import read_tex
from evenquill.core.model import Document, Equation, InlinePicture
from evenquill.core.writers.odt import write_odt
from evenquill.core.writers.registry import WRITERS

OFFICE = "{urn:oasis:names:tc:opendocument:xmlns:office:1.0}"
TEXT = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}"
STYLE = "{urn:oasis:names:tc:opendocument:xmlns:style:1.0}"
TABLE = "{urn:oasis:names:tc:opendocument:xmlns:table:1.0}"
FO = "{urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0}"


def written(document: Document = DOCUMENT) -> zipfile.ZipFile:
    return zipfile.ZipFile(io.BytesIO(write_odt(document, lambda _: picture_bytes())))


def content(document: Document = DOCUMENT) -> etree._Element:
    return etree.fromstring(written(document).read("content.xml"))


def by_pandoc(document: Document, tmp_path, to: str) -> str:
    path = tmp_path / "out.odt"
    path.write_bytes(write_odt(document, lambda _: picture_bytes()))
    return pypandoc.convert_file(str(path), to, format="odt", extra_args=["--wrap=none"])


def test_an_independent_reader_finds_all_words_and_nothing_is_taken_for_markup(tmp_path):
    found = [word for said in strings(json.loads(by_pandoc(DOCUMENT, tmp_path, "json"))) for word in words_of(said)]
    joined = " ".join(found)
    for sentence in (
        "Gauges of the north", "The float was hard against", "wire", SIGNS, *AWKWARD, "Loud and quiet", "first", "within", "second",
        "lettered", "One line", "another line", "Said long ago", "14 March", "North pier", "2 31", "Figure 1 A sheet",
        "Found by the keeper",
    ):  # fmt: skip
        assert " ".join(words_of(sentence)) in joined, sentence
    assert "Set aside" not in joined


def test_what_things_are_is_kept(tmp_path):
    said = by_pandoc(DOCUMENT, tmp_path, "markdown")
    for wanted in (
        "Gauges of the north",
        "**float**",
        "*hard*",
        "[^1]: Found by the keeper.",
        "https://skerrin.example/wire?a=1&b=2",
    ):
        assert wanted in said
    assert re.search(r"^3\.\s+first\n\n\s+-\s+within\n\n4\.\s+second", said, re.MULTILINE)
    assert re.search(r"^\(b\)\s+lettered", said, re.MULTILINE)
    assert r"\frac{a}{b}" in said
    assert re.search(r"^ *Gauge.*May.*June", said, re.MULTILINE)


def test_the_package_is_as_the_standard_has_it():
    file = written()
    assert file.namelist()[0] == "mimetype"
    assert file.read("mimetype") == b"application/vnd.oasis.opendocument.text"
    manifest = file.read("META-INF/manifest.xml").decode()
    for name in file.namelist():
        assert name in ("mimetype", "META-INF/manifest.xml") or f'"{name}"' in manifest, name
    assert (
        DOCUMENT.title.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;") in file.read("meta.xml").decode()
    )


@pytest.mark.parametrize("document", [DOCUMENT, styled()], ids=["all kinds", "styles and pages"])
def test_an_independent_checker_finds_nothing(document, tmp_path):
    path = tmp_path / "checked.odt"
    path.write_bytes(write_odt(document, lambda _: picture_bytes()))
    checked = subprocess.run(
        [sys.executable, "-m", "openxml_audit", str(path)], capture_output=True, text=True, check=False
    )
    errors = re.findall(r"^\d+\. (.*)$", checked.stdout, re.MULTILINE)
    assert "Errors:" in checked.stdout or "no findings" in checked.stdout
    # It takes objects for files; they are folders (part 1, 10.4.6.2).
    known = re.compile(r"Frame child references 'Object \d+' which is not present in the package")
    assert [one for one in errors if not known.fullmatch(one)] == []


def test_styles_pages_columns_and_running_heads():
    file = written(styled())
    styles = etree.fromstring(file.read("styles.xml"))
    named = {one.get(f"{STYLE}display-name"): one for one in styles.iter(f"{STYLE}style")}
    heading = named["Heading 2"]
    assert heading.get(f"{STYLE}default-outline-level") == "2"
    (letters,) = heading.findall(f"{STYLE}text-properties")
    assert (letters.get(f"{FO}font-weight"), letters.get(f"{FO}font-size")) == ("bold", "14.00pt")
    quotation = named["Quotation"].find(f"{STYLE}paragraph-properties")
    assert (quotation.get(f"{FO}margin-left"), quotation.get(f"{FO}text-indent")) == ("24.00pt", "-6.00pt")
    masters = list(styles.iter(f"{STYLE}master-page"))
    begun = [
        one.get(f"{STYLE}master-page-name") for one in etree.fromstring(file.read("content.xml")).iter(f"{STYLE}style")
    ]
    assert [one for one in begun if one] == ["First1"]
    assert [one.get(f"{STYLE}name") for one in masters] == ["First1", "Standard"]
    assert masters[0].get(f"{STYLE}next-style-name") == "Standard"
    (header,) = masters[1].findall(f"{STYLE}header")
    assert "".join(header.itertext()).startswith("Gauges")
    assert list(header.iter(f"{TEXT}page-number"))
    assert not masters[0].findall(f"{STYLE}header")
    page = next(styles.iter(f"{STYLE}page-layout-properties"))
    assert (page.get(f"{FO}page-width"), page.get(f"{FO}margin-left")) == ("500.00pt", "60.00pt")
    columns = next(etree.fromstring(file.read("content.xml")).iter(f"{STYLE}columns"))
    assert columns.get(f"{FO}column-count") == "2"


def test_headings_have_levels_and_tables_have_headers_and_spans():
    root = content()
    (heading,) = root.iter(f"{TEXT}h")
    assert (heading.get(f"{TEXT}outline-level"), "".join(heading.itertext())) == ("1", "Gauges of the north")
    (header,) = root.iter(f"{TABLE}table-header-rows")
    assert "".join(header.itertext()) == "GaugeMay | June"


def test_spaces_that_follow_one_another_are_kept():
    document = replace(DOCUMENT, blocks=(text("p", "  two before,   three within, one after "),))
    (row,) = content(document).iter(f"{TEXT}p")
    said = (row.text or "") + "".join(
        " " * int(one.get(f"{TEXT}c", "1")) + (one.tail or "") for one in row.iter(f"{TEXT}s")
    )
    assert said == "  two before,   three within, one after "


def test_formulas_and_pictures_in_lines_are_objects_of_their_own():
    sign = InlinePicture("ab" * 32, "image/png", 12, 6, alt="a sign")
    formulas = [Equation(read_tex(one)) for one in ("x^2", r"\sqrt{y}")]
    file = written(replace(DOCUMENT, blocks=(text("p", "See ", formulas[0], " and ", formulas[1], " ", sign),)))
    for n, said in ((1, "msup"), (2, "msqrt")):
        assert said in file.read(f"Object {n}/content.xml").decode()
    (picture,) = [name for name in file.namelist() if name.startswith("Pictures/")]
    assert file.read(picture) == picture_bytes()
    assert "a sign" in file.read("content.xml").decode()


def test_running_heads_are_left_out_where_they_are_not_wanted():
    data = WRITERS["odt"].write(styled(), lambda _: picture_bytes(), ("without_running_heads",))
    styles = zipfile.ZipFile(io.BytesIO(data)).read("styles.xml").decode()
    assert "<style:header" not in styles
    assert "<style:header" in written(styled()).read("styles.xml").decode()


def test_characters_that_xml_has_no_place_for_are_left_out():
    root = content(replace(DOCUMENT, title="a\x00b", blocks=(text("p", "bell\x07 and\x1f so on"),)))
    assert "bell and so on" in "".join(root.itertext())


def test_an_empty_document_can_be_written(tmp_path):
    assert by_pandoc(Document(), tmp_path, "plain").strip() == ""


def test_items_are_as_deep_as_they_are_though_levels_are_left_out():
    root = content(replace(DOCUMENT, blocks=(item("a", "first", 1), item("b", "deep", 3), item("c", "flat", 0))))
    depths = {
        "".join(row.itertext()): sum(1 for _ in row.iterancestors(f"{TEXT}list")) - 1 for row in root.iter(f"{TEXT}p")
    }
    assert depths == {"first": 1, "deep": 3, "flat": 0}
