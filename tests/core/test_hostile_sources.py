"""Sources made to do harm: each comes to its end under the limits, and nothing of it is lost without a word."""

from __future__ import annotations

import hostile
import msgspec
import pdf_parts
import pikepdf
import pytest
from pikepdf import Dictionary, Name, Pdf
from PIL import Image

from evenquill.core.convert import convert
from evenquill.core.errors import TooLarge
from evenquill.core.evidence import PageEvidence, PictureKind
from evenquill.core.model import PictureBlock, RemarkKind
from evenquill.core.reading.jobs import PageJob, SourcePage
from evenquill.core.reading.page_reader import draw_job
from evenquill.core.source import examine
from evenquill.core.source.page_load import check_page, unpacked


@pytest.fixture
def converted(pool, tmp_path):
    def make(name: str):
        hostile.SOURCES[name](tmp_path / name)
        return convert(tmp_path / name, pool, tmp_path / "pictures")

    return make


@pytest.mark.parametrize(
    ("name", "kind"),
    [
        ("ten levels of ten forms.pdf", RemarkKind.UNREADABLE),
        ("forms that call each other.pdf", RemarkKind.UNREADABLE),
        ("content compressed forty times.pdf", RemarkKind.UNREADABLE),
        ("a picture that claims a million pixels a side.pdf", RemarkKind.CUT_SHORT),
        ("dashes of a millionth.pdf", None),
        ("arrays within arrays.pdf", None),
        ("patterns within patterns.pdf", None),
        ("letters that draw themselves.pdf", None),
        ("a word of a million letters.pdf", None),
        ("a page without an area.pdf", None),
        ("a page of a billion points.pdf", None),
        ("bookmarks in a circle.pdf", RemarkKind.BLANK),
        ("dictionaries within dictionaries.pdf", RemarkKind.BLANK),
        ("a TIFF whose pages are a circle.tif", RemarkKind.BLANK),
    ],
)
def test_each_ends_with_rows_a_picture_or_a_word(converted, name, kind):
    conversion = converted(name)
    document = conversion.document
    kinds = {remark.kind for remark in document.remarks}
    assert kind is None or kind in kinds
    assert document.blocks or kinds & {RemarkKind.UNREADABLE, RemarkKind.BLANK}
    if RemarkKind.PAGE_AS_PICTURE in kinds:
        (picture,) = [block for block in document.blocks if isinstance(block, PictureBlock)]
        assert conversion.pictures.has(picture.picture)
    assert all("{page}" not in remark.sentence and remark.sentence.endswith(".") for remark in document.remarks)


def test_pages_that_are_only_claimed_are_not_read(converted):
    conversion = converted("one page that claims to be 15,000.pdf")
    assert (conversion.facts.pages, len(conversion.pages)) == (1, 1)
    assert [block.text for block in conversion.document.blocks] == ["Keel light."]


def test_a_page_with_drawings_alone_is_kept_as_a_picture_and_a_blank_one_is_said_to_be(pool, tmp_path):
    def one(content: bytes):
        path = tmp_path / f"{len(content)}.pdf"
        pdf_parts.written(path, content)
        (remark,) = convert(path, pool, tmp_path / "pictures").document.remarks
        return remark.kind

    assert one(b"0.5 w 100 100 m 400 100 l S 100 300 m 400 300 l S") is RemarkKind.PAGE_AS_PICTURE
    assert one(b"") is RemarkKind.BLANK
    assert one(b"1 g 0 0 595 842 re f") is RemarkKind.BLANK


def test_usual_forms_are_counted_and_let_through(tmp_path):
    def load(times: int):
        with Pdf.new() as pdf:
            stamp = pdf_parts.form(pdf, b"0 0 9 9 re f " * 1000)
            pdf_parts.page(pdf, b"/X Do " * times, XObject=Dictionary({"/X": stamp}))
            pdf_parts.save(pdf, tmp_path / f"{times}.pdf")
        return check_page(str(tmp_path / f"{times}.pdf"), None, 1)

    assert load(100).content == pytest.approx(100 * 13_200, rel=0.01)
    with pytest.raises(TooLarge):
        load(20_000)


def test_what_is_packed_is_unpacked_no_further_than_wanted():
    with Pdf.new() as pdf:
        for times in (1, 2, 3):
            packed = pdf_parts.filtered(pdf, pdf_parts.squeezed(10_000_000, times=times), *[Name.FlateDecode] * times)
            assert len(unpacked(packed, 1_000_000)) == 1_000_001
        usual = pdf_parts.filtered(pdf, pdf_parts.squeezed(65536), Name.FlateDecode)
        assert unpacked(usual, 100_000_000) == b"\0" * 65536


def test_a_file_that_cannot_be_looked_at_is_left_to_the_reader(tmp_path):
    (tmp_path / "no.pdf").write_bytes(b"%PDF-1.7 and nothing more")
    assert check_page(str(tmp_path / "no.pdf"), None, 1).content == 0


def test_bookmarks_are_taken_up_to_a_number(tmp_path):
    with Pdf.new() as pdf:
        pdf_parts.page(pdf, b"")
        with pdf.open_outline() as outline:
            outline.root.extend(pikepdf.OutlineItem(f"Part {n}", 0) for n in range(10_050))
        pdf.save(tmp_path / "long.pdf")
    assert len(examine(tmp_path / "long.pdf").outline) == 10_000


def test_a_picture_file_that_cannot_be_read_is_kept_as_a_picture(tmp_path, pictures):
    Image.effect_noise((900, 1200), 90).save(tmp_path / "noise.png", dpi=(100, 100))
    job = PageJob(SourcePage(7, str(tmp_path / "noise.png"), 1), None, str(pictures.folder))
    page = msgspec.msgpack.decode(draw_job(job, "Page {page} could not be read."), type=PageEvidence)
    (picture,) = page.pictures
    assert pictures.has(picture.picture)
    assert (page.number, picture.kind, page.width, page.height) == (7, PictureKind.PAGE, 648, 864)
    assert page.page_remarks()[0].sentence == "Page 7 could not be read."
    (tmp_path / "noise.png").write_bytes(b"\x89PNG\r\n\x1a\n and no more")
    page = msgspec.msgpack.decode(draw_job(job, "Page {page} could not be read."), type=PageEvidence)
    assert not page.pictures
    assert page.remarks[0].kind is RemarkKind.UNREADABLE
