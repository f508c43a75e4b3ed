"""Links that may run something, and colors that are none, come neither in nor out."""

import docx
import pytest

from evenquill.core.edits import EditText, apply
from evenquill.core.evidence import LinkArea, PageEvidence
from evenquill.core.model import BlockLink, Box, Document, PageLink, Text, TextBlock, UrlLink
from evenquill.core.model.inline import is_safe_link
from evenquill.core.writers.docx import write_docx
from tests.core.blocks import block

SAFE = ["https://a.example/x?y=1#z", "HTTP://a.example", "mailto:a@b.example"]
UNSAFE = [
    "javascript:alert(1)", "JavaScript:alert(1)", " javascript:alert(1)", "java\nscript:alert(1)", "data:text/html,x",
    "file:///etc/passwd", "vbscript:x", "//a.example", "\\\\a.example\\x", "https://a.example/\nx", "", "x", "www.a.example", "tel:123",
]  # fmt: skip


@pytest.mark.parametrize("address", SAFE)
def test_links_to_the_web_and_to_letters_stay(address):
    assert is_safe_link(UrlLink(address))


@pytest.mark.parametrize("address", UNSAFE)
def test_others_come_neither_from_the_clerk_nor_from_a_source_nor_out(address, tmp_path):
    link = UrlLink(address)
    document = Document(blocks=(block("a", "The float"),))
    typed = apply(document, EditText("a", (Text("The float", link=link, color="00ff00"),))).document.blocks[0]
    assert typed.content == (Text("The float", color="00ff00"),)
    assert PageEvidence(1, 9.0, 9.0).target_of(LinkArea(Box(0, 0, 9, 9), link)) is None
    written = tmp_path / "out.docx"
    content = (Text("see "), Text("there", link=link), Text(" and "), Text("here", link=UrlLink("https://a.example")))
    written.write_bytes(write_docx(Document(blocks=(TextBlock("a", content=content),)), lambda _: b""))
    (paragraph,) = docx.Document(str(written)).paragraphs
    assert paragraph.text == "see there and here"
    assert [hyperlink.address for hyperlink in paragraph.hyperlinks] == ["https://a.example"]


def test_links_within_the_document_stay():
    assert is_safe_link(PageLink(2))
    assert is_safe_link(BlockLink("b1"))
    assert is_safe_link(None)


@pytest.mark.parametrize("color", ["red", "12345", "1234567", 'x" onload="y', "\x00\x00\x00\x00\x00\x00", ""])
def test_colors_are_six_hexadecimal_digits(color):
    document = Document(blocks=(block("a", "The float"),))
    typed = apply(document, EditText("a", (Text("The float", color=color),))).document.blocks[0]
    assert typed.content == (Text("The float"),)
