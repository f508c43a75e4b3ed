"""Small capitals are small letters that are marked."""

from __future__ import annotations

import io
import zipfile

import pytest

from evenquill.core.font_names import is_called_small_capitals
from evenquill.core.model import Marks, Role
from evenquill.core.model.inline import plain
from evenquill.core.pictures import PictureFolder
from evenquill.core.writers.docx import write_docx
from tests.conftest import text_blocks

SMALL = "#let small(first, rest) = [#text(size: 14pt)[#first]#text(size: 11pt)[#rest]]\n"
PROSE = "The float was found below the light and taken to the station by the keeper, who wrote it down at once."


def test_smaller_capitals_behind_a_large_one_are_small_letters_that_bear_the_mark(typeset, rebuilt, tmp_path):
    source = f"{SMALL}#align(center)[#strong[#small[K][EEL] #small[L][IGHT] #text(size: 11pt)[AND] 1971]]\n\n{PROSE}\n\n{PROSE}"
    document = rebuilt(typeset(source))
    title = text_blocks(document)[0]
    assert title.text == "Keel Light and 1971"
    assert title.role is Role.HEADING
    marked = "".join(plain([run]) for run in title.content if Marks.SMALL_CAPITALS in run.marks)
    assert marked == "eelight and"
    written = zipfile.ZipFile(io.BytesIO(write_docx(document, PictureFolder(tmp_path).get)))
    assert b"<w:smallCaps/>" in written.read("word/document.xml")


def test_what_is_smaller_for_other_reasons_stays_as_it_is(typeset, rebuilt):
    source = f"""The stations KEEL and #text(size: 8pt)[BRAN] were closed. #text(size: 10pt)[L]#text(size: 7pt)[A]T is a sign.
    H#sub[2]O and N#super[TH] stay. {PROSE}"""
    (block,) = text_blocks(rebuilt(typeset(source)))
    assert "KEEL and BRAN were closed. LAT is a sign." in block.text
    assert not any(Marks.SMALL_CAPITALS in run.marks for run in block.content)


@pytest.mark.parametrize(
    ("name", "says"),
    [
        ("CMCSC10", True), ("ABCDEF+Carlito-Bold-Small-Caps", True), ("LMRomanCaps10-Regular", True), ("Alegreya SC", True),
        ("NotoSansSC-Regular", False), ("DejaVuSansCondensed", False), ("Lato-Regular", False),
    ],
)  # fmt: skip
def test_names_of_fonts_say_whether_they_have_small_capitals(name: str, says: bool):
    assert is_called_small_capitals(name) is says
