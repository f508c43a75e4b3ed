"""A document delivered in all formats at once, each of which is read back."""

from __future__ import annotations

from pathlib import Path

import docx
import pypdfium2 as pdfium
from playwright.sync_api import expect

from tests.ui.conftest import serious_findings, tick
from tests.ui.test_interface import SOURCE, open_desk, take_in

FORMATS = ("PDF", "HTML", "Markdown", "Plain text")


def read(path: str, ending: str) -> str:
    if ending == "docx":
        return "\n".join(paragraph.text for paragraph in docx.Document(path).paragraphs)
    if ending == "pdf":
        return "\n".join(page.get_textpage().get_text_range() for page in pdfium.PdfDocument(path))
    return Path(path).read_text(encoding="utf-8")


def test_a_document_is_delivered_in_five_formats_at_once(page, application, drop, typeset, tmp_path):
    take_in(page, application, drop, typeset(SOURCE, "Formats"))
    open_desk(page, "Formats.pdf")
    page.get_by_role("link", name="Deliver").click()
    expect(page.get_by_role("button", name="Deliver as DOCX", exact=True)).to_be_visible()
    for name in FORMATS:
        tick(page.get_by_role("checkbox", name=name, exact=True))
    tick(page.get_by_role("checkbox", name="Each paragraph on one line"))
    assert serious_findings(page) == []
    page.get_by_role("button", name="First page as DOCX").click()
    drawn = page.get_by_role("img", name="The first page as DOCX")
    expect(drawn).to_be_visible()
    page.wait_for_function("image => image.naturalWidth > 300", arg=drawn.element_handle())
    page.get_by_role("button", name="First page as Markdown").click()
    expect(page.get_by_label("The first page as Markdown", exact=True)).to_contain_text("# North Pier")
    expect(drawn).to_have_count(0)
    page.get_by_role("button", name="First page as HTML").click()
    expect(page.frame_locator("iframe").get_by_role("heading", name="North Pier")).to_be_visible()
    assert serious_findings(page) == []
    page.get_by_role("button", name="First page as HTML").click()
    expect(page.locator("iframe")).to_have_count(0)
    got = []
    page.on("download", lambda file: got.append(file))
    page.get_by_role("button", name="Deliver as DOCX, PDF, HTML, Markdown, Plain text").click()
    expect(page.get_by_role("row").filter(has_text="Formats.")).to_have_count(5)
    for file in got:
        ending = file.suggested_filename.rpartition(".")[2]
        target = str(tmp_path / f"read.{ending}")
        file.save_as(target)
        said = read(target, ending)
        assert "The float was found hard against the guide wire." in said, ending
        assert "The pressure gauge worked" in said.replace("\r\n", " "), ending
        if ending == "txt":
            assert len(said.splitlines()) == 6
    assert {file.suggested_filename for file in got} == {
        f"Formats.{ending}" for ending in ("docx", "pdf", "html", "md", "txt")
    }


def test_without_a_format_nothing_is_delivered(page, application, drop, typeset):
    take_in(page, application, drop, typeset(SOURCE, "None"))
    open_desk(page, "None.pdf")
    page.get_by_role("link", name="Deliver").click()
    tick(page.get_by_role("checkbox", name="DOCX", exact=True))
    expect(page.get_by_role("button", name="Choose a format")).to_be_disabled()
    expect(page.get_by_role("checkbox", name="Each paragraph on one line")).to_be_disabled()


def test_what_is_to_be_looked_at_is_said_and_keeps_nothing_here(page, application, drop, typeset):
    pale = "#text(fill: luma(175))[A pale row that many cannot read.]"
    source = f"= Tides\nA row of text that can be read.\n\n{pale}\n\nAnother row of text."
    take_in(page, application, drop, typeset(source, "Checked"))
    open_desk(page, "Checked.pdf")
    page.get_by_role("link", name="Deliver").click()
    section = page.get_by_role("region", name="Before it goes out")
    expect(section.get_by_text("A row has letters so pale")).to_be_visible()
    expect(section.get_by_text("(row 3)")).to_be_visible()
    assert serious_findings(page) == []
    expect(page.get_by_role("button", name="Deliver as DOCX", exact=True)).to_be_enabled()


def test_some_pages_go_out_under_a_name_of_the_clerks_own_and_some_rows_from_the_desk(
    page, application, drop, typeset, tmp_path
):
    pages = "#set page(width: 320pt, height: 200pt)\nFirst page.\n#pagebreak()\nSecond page.\n#pagebreak()\nThird page."
    take_in(page, application, drop, typeset(pages, "Parts"))
    open_desk(page, "Parts.pdf")
    page.locator(".row").nth(1).locator(".gutter").click()
    page.keyboard.press("Shift+ArrowDown")
    with page.expect_download() as download:
        page.get_by_role("toolbar", name="Tools for the marked rows").get_by_role("button", name="Deliver").click()
    assert download.value.suggested_filename == "Parts, some rows.docx"
    download.value.save_as(str(tmp_path / "rows.docx"))
    assert read(str(tmp_path / "rows.docx"), "docx") == "Second page.\nThird page."

    page.get_by_role("button", name="Unmark").click()
    page.get_by_role("link", name="Deliver").click()
    page.get_by_label("Pages of the source").fill("4")
    page.get_by_label("File name").fill("{name}, page {pages}")
    page.get_by_role("button", name="Deliver as DOCX", exact=True).click()
    expect(page.locator(".notices")).to_contain_text("There are no pages 4: the document has 3.")
    assert serious_findings(page) == []
    page.get_by_label("Pages of the source").fill("1")
    with page.expect_download() as download:
        page.get_by_role("button", name="Deliver as DOCX", exact=True).click()
    assert download.value.suggested_filename == "Parts, page 1.docx"
    download.value.save_as(str(tmp_path / "page.docx"))
    assert read(str(tmp_path / "page.docx"), "docx") == "First page."

    # The name is kept for the next time, for this clerk.
    page.reload()
    expect(page.get_by_label("File name")).to_have_value("{name}, page {pages}")
    page.get_by_label("File name").fill("{name}")
    with page.expect_download() as download:
        page.get_by_role("button", name="The certificate as PDF").click()
    assert download.value.suggested_filename == "Parts, certificate.pdf"
