"""Formats beside DOCX: complete for an independent reader, whatever stands in the text."""

from __future__ import annotations

import io
import json
import re
from xml.etree import ElementTree

import pypandoc
import pytest
from blocks import table
from msgspec.structs import replace
from PIL import Image

from evenquill.core.equations.tex_reader import read_tex
from evenquill.core.model import (
    BlockLink,
    Box,
    Break,
    Document,
    Equation,
    Marks,
    NoteRef,
    NumberFormat,
    Numbering,
    PageLink,
    ParagraphStyle,
    PictureBlock,
    Role,
    Spot,
    Tab,
    Text,
    TextBlock,
    UrlLink,
)
from evenquill.core.writers.registry import WRITERS

STYLES = (ParagraphStyle("Body text", size=11), ParagraphStyle("Loud", size=11, bold=True))
SIGNS = r'5 * 3 < 4 & a_b_c [x](y) `code` $9 to $10 | "said" \n ~no~ #1 <script>alert(1)</script> ^up^'
AWKWARD = ["# no heading", "- no item", "12. no number", "+ plus", "= equals", ": colon", "> no quotation"]


def picture_bytes() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (80, 40), "teal").save(out, "PNG")
    return out.getvalue()


def text(id: str, *content, style="Body text", **more) -> TextBlock:
    items = tuple(Text(one) if isinstance(one, str) else one for one in content)
    return TextBlock(id, content=items, style=style, **more)


def item(id: str, words: str, level: int = 0, **numbering) -> TextBlock:
    return text(id, words, role=Role.LIST_ITEM, level=level, numbering=Numbering(**numbering) if numbering else None)


DOCUMENT = Document(
    title="Gauges & <Tides>",
    language="de",
    styles=STYLES,
    blocks=(
        text("h", "Gauges of the north", role=Role.HEADING, level=1, spots=(Spot(1, Box(0, 0, 90, 12)),)),
        text(
            "p", "The ", Text("float", Marks.BOLD), " was ", Text("hard", Marks.ITALIC), " against", NoteRef("n", "1"), " the ",
            Text("wire", link=UrlLink("https://skerrin.example/wire?a=1&b=2")), ", see ", Text("the table", link=BlockLink("t")), " and ",
            Text("the page", link=PageLink(1)), ".",
        ),
        text("signs", SIGNS),
        *(text(f"w{n}", line) for n, line in enumerate(AWKWARD)),
        text("loud", "Loud and ", Text("quiet", Marks.BOLD), style="Loud"),
        item("a", "first", format=NumberFormat.DECIMAL, pattern="%.", start=3),
        item("b", "within", level=1),
        item("c", "second", format=NumberFormat.DECIMAL, pattern="%."),
        item("d", "lettered", format=NumberFormat.LOWER_LETTER, pattern="(%)", start=2),
        text("v", "One line", Break(), "another line", role=Role.VERSE),
        text("k", "if a < b:", Break(), "\tpass", role=Role.CODE),
        text("q", "Said long ago.", role=Role.QUOTE),
        text("tabs", "Date", Tab(), "14 March"),
        text("e", "Range ", Equation(read_tex(r"\frac{a}{b}")), " of it", language="en"),
        table("t", [["Gauge", "May | June"], ["North pier", "2,31"]], header_rows=1),
        PictureBlock("i", "ab" * 32, "image/png", 80, 40, alt="A teal sheet"),
        text("cap", "Figure 1: A sheet", role=Role.CAPTION),
        text("n", "Found by the keeper.", role=Role.NOTE),
        text("x", "Set aside", excluded=True),
    ),
)  # fmt: skip


def written(name: str, document: Document = DOCUMENT, options=()) -> str:
    return WRITERS[name].write(document, lambda _: picture_bytes(), options).decode()


def words_of(plain: str) -> list[str]:
    return re.findall(r"\w+", plain)


def strings(tree) -> list[str]:
    """All text in what pandoc has read."""
    if isinstance(tree, dict) and tree.get("t") in ("Str", "Code", "CodeBlock"):
        return [tree["c"] if tree["t"] == "Str" else tree["c"][1]]
    below = tree.values() if isinstance(tree, dict) else tree if isinstance(tree, list) else ()
    return [said for one in below for said in strings(one)]


def read_by_pandoc(name: str, source: str) -> str:
    return pypandoc.convert_text(source, "plain", format=name, extra_args=["--wrap=none"])


@pytest.mark.parametrize("name", ["html", "markdown"])
def test_an_independent_reader_finds_all_words(name):
    found = [
        word
        for said in strings(json.loads(pypandoc.convert_text(written(name), "json", format=name)))
        for word in words_of(said)
    ]
    for sentence in (
        "Gauges of the north", "The float was hard against", "wire", SIGNS, *AWKWARD, "Loud and quiet", "first", "within", "second",
        "lettered", "One line", "another line", "if a b pass", "Said long ago", "14 March", "North pier", "2 31", "Figure 1 A sheet",
        "Found by the keeper",
    ):  # fmt: skip
        assert not [word for word in words_of(sentence) if word not in found], sentence
    assert "aside" not in found


@pytest.mark.parametrize("name", ["html", "markdown"])
def test_what_text_says_is_never_taken_for_markup(name):
    blocks = json.loads(pypandoc.convert_text(written(name), "json", format=name))["blocks"]
    kinds = [block["t"] for block in blocks if block["t"] not in ("Para", "Plain")]
    headings = [block for block in blocks if block["t"] == "Header"]
    assert len(headings) == 1
    assert kinds.count("BlockQuote") == 1
    assert kinds.count("CodeBlock") == 1
    assert kinds.count("Table") == 1
    plain = read_by_pandoc(name, written(name))
    assert re.sub(r"[“”„]", '"', SIGNS) in re.sub(r"[“”„]", '"', plain)
    for line in AWKWARD:
        assert line in plain


def test_html_is_one_file_that_says_what_everything_is():
    page = written("html")
    root = ElementTree.fromstring(page.removeprefix("<!DOCTYPE html>"))
    assert root.get("lang") == "de"
    assert root.findtext(".//title") == "Gauges & <Tides>"
    (image,) = root.iter("img")
    assert image.get("alt") == "A teal sheet"
    assert image.get("src").startswith("data:image/png;base64,")
    assert [head.get("scope") for head in root.iter("th")] == ["col", "col"]
    assert root.find(".//figure/figcaption") is not None
    names = [one.get("id") for one in root.iter() if one.get("id")]
    assert len(names) == len(set(names))
    led_to = [a.get("href")[1:] for a in root.iter("a") if a.get("href").startswith("#")]
    assert led_to
    assert set(led_to) <= set(names)
    assert not re.search(r"""(src|href)=["'](?!#|data:|https://skerrin)""", page)
    assert root.find(".//ol").get("start") == "3"
    assert [li.text for li in root.findall(".//ol/li/ul/li")] == ["within"]
    assert root.find(".//*[@lang='en']") is not None
    assert "<script" not in page
    assert "math" in page


def test_markdown_has_lists_tables_notes_and_formulas():
    page = written("markdown")
    assert "3. first\n\n    - within\n\n4. second\n\n(b) lettered" in page
    assert "| Gauge | May \\| June |\n| --- | --- |\n| North pier | 2,31 |" in page
    assert "against[^1] the" in page
    assert "\n[^1]: Found by the keeper." in page
    assert "**float** was *hard*" in page
    assert r"$\frac{a}{b}$" in page
    assert "Loud and quiet" in page
    assert "One line\\\nanother line" in page
    assert "![A teal sheet][picture-1]" in page
    assert "\n[picture-1]: data:image/png;base64," in page


def test_plain_text_has_paragraphs_by_empty_lines_or_one_line_each():
    page = written("text")
    assert "The float was hard against[1] the wire, see the table and the page.\n\n" in page
    assert SIGNS in page
    assert "Gauge\tMay | June\nNorth pier\t2,31" in page
    assert "3. first\n\n    • within\n\n4. second\n\n(b) lettered" in page
    assert page.endswith("[1] Found by the keeper.\n")
    lines = written("text", options=("one_line",)).splitlines()
    assert "One line another line" in lines
    assert "" not in lines
    assert "North pier\t2,31" in lines


@pytest.mark.parametrize("name", ["html", "markdown", "text"])
def test_a_document_of_nothing_and_one_without_structure_are_written(name):
    assert written(name, Document()) is not None
    bare = replace(DOCUMENT, styles=(), language="", title="", blocks=(text("p", "Word", style="gone"),))
    assert "Word" in written(name, bare)


def test_control_characters_do_not_break_html():
    page = written("html", replace(DOCUMENT, blocks=(text("p", "a\x00b\x0bc\ufffe"),)))
    assert ">abc<" in page
