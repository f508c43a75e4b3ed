"""Styles taken over from a template, written by another library, and from another document."""

from __future__ import annotations

import io
import zipfile

import docx
import pytest
from docx.enum.text import WD_ALIGN_PARAGRAPH
from docx.shared import Pt, RGBColor
from msgspec.structs import replace

from evenquill.core.docx_styles import template_styles
from evenquill.core.edits import TakeStyles, apply, undo
from evenquill.core.errors import EditError
from evenquill.core.model import Align, Document, Family, ParagraphStyle, ResolvedStyle
from evenquill.core.writers.docx import write_docx
from tests.core.blocks import block


def template() -> bytes:
    made = docx.Document()
    normal, heading, caption = (made.styles[name] for name in ("Normal", "Heading 1", "Caption"))
    normal.font.name, normal.font.size = "Carlito", Pt(10.5)
    normal.paragraph_format.space_after = Pt(7)
    normal.paragraph_format.line_spacing = Pt(14)
    heading.font.name, heading.font.size, heading.font.bold = "Liberation Sans", Pt(17), False
    heading.font.color.rgb = RGBColor(0x12, 0x34, 0x56)
    heading.paragraph_format.alignment = WD_ALIGN_PARAGRAPH.CENTER
    caption.paragraph_format.left_indent = Pt(12)
    caption.paragraph_format.first_line_indent = Pt(-6)
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


@pytest.fixture
def document() -> Document:
    return Document(
        styles=(
            ParagraphStyle("Body text", size=9, font="Libertinus Serif", align=Align.JUSTIFY),
            ParagraphStyle("Chapter", based_on="Body text", size=20, bold=True, outline=1),
            ParagraphStyle("Caption", based_on="Body text", size=8),
            ParagraphStyle("Own", based_on="Body text", italic=True),
        ),
        blocks=(block("a", "A row"),),
    )


def test_the_styles_of_a_template_are_read_with_what_they_take_over():
    found = {style.id: style for style in template_styles(template()).styles}
    body, heading, caption = found["Body text"], found["Heading 1"], found["Caption"]
    assert (body.font, body.size, body.after, body.leading) == ("Carlito", 10.5, 7, 14)
    assert (heading.font, heading.family, heading.size, heading.bold) == ("Liberation Sans", Family.SANS, 17, False)
    assert (heading.color, heading.align, heading.outline) == ("123456", Align.CENTER, 1)
    assert (caption.font, caption.left, caption.first, caption.after) == ("Carlito", 12, -6, 7)


def test_the_styles_of_a_document_are_given_their_looks(document):
    edit = apply(document, TakeStyles(template_styles(template()).styles))
    after = edit.document
    assert (after.style("Body text").font, after.style("Body text").size) == ("Carlito", 10.5)
    assert (after.style("Chapter").size, after.style("Chapter").color, after.style("Chapter").name) == (
        17,
        "123456",
        "Chapter",
    )
    assert after.style("Caption").left == 12
    # What is not in the template follows the text that it is based on.
    assert (after.style("Own").font, after.style("Own").italic) == ("Carlito", True)
    assert undo(after, edit.inverse) == document
    with pytest.raises(EditError, match="look like that already"):
        apply(after, TakeStyles(template_styles(template()).styles))


def test_what_was_written_here_gives_its_own_looks_back(document):
    other = replace(document, styles=(replace(document.styles[0], size=12, font="Caladea"), *document.styles[1:]))
    from_file = template_styles(write_docx(other, lambda _: None)).styles
    after = apply(document, TakeStyles(from_file)).document
    assert (after.style("Body text").size, after.style("Body text").font) == (12, "Caladea")
    direct = apply(document, TakeStyles(tuple(other.resolved_styles.values()))).document
    assert direct.style("Body text").size == 12


def packed(**parts: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as file:
        for name, data in parts.items():
            file.writestr(name.replace("__", "/") + ".xml", data)
    return out.getvalue()


BARE = b'<w:styles xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"/>'
BOMB = b'<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;">]>' + BARE


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"no file", "no DOCX"),
        (packed(word__other=b""), "no DOCX"),
        (packed(word__styles=b"<w:styles"), "no DOCX"),
        (packed(word__styles=BARE), "no styles"),
        (packed(word__styles=BOMB), "no styles"),
        (packed(word__styles=b" " * 21_000_000), "too large"),
    ],
)
def test_what_is_no_template_says_so(data, says):
    with pytest.raises(EditError, match=says):
        template_styles(data)


def test_macros_are_said_and_not_run():
    data = io.BytesIO(template())
    with zipfile.ZipFile(data, "a") as file:
        file.writestr("word/vbaProject.bin", b"macro")
    assert template_styles(data.getvalue()).macros
    assert not template_styles(template()).macros


def test_looks_that_no_style_can_have_are_refused(document):
    for wrong in (
        ResolvedStyle("Body text", "Body text", size=0.1),
        ResolvedStyle("Body text", "Body text", color="red"),
    ):
        with pytest.raises(EditError):
            apply(document, TakeStyles((wrong,)))
