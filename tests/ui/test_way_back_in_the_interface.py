"""A delivered file that was edited elsewhere is brought back, its changes are taken over, and the document goes out as PDF."""

from __future__ import annotations

import docx
import pypdfium2 as pdfium
from playwright.sync_api import expect

from tests.ui.conftest import serious_findings, tick
from tests.ui.test_interface import SOURCE, docket, open_desk, row, saved, take_in, type_in


def deliver(page, name: str, path) -> None:
    with page.expect_download() as download:
        page.get_by_role("button", name=f"Deliver as {name}", exact=True).click()
    download.value.save_as(path)


def test_an_edited_file_is_brought_back_taken_over_and_delivered_as_pdf(page, application, drop, typeset, tmp_path):
    take_in(page, application, drop, typeset(SOURCE, "Back"))
    open_desk(page, "Back.pdf")
    page.get_by_role("link", name="Deliver").click()
    path = tmp_path / "Back.docx"
    deliver(page, "DOCX", path)

    file = docx.Document(str(path))
    paragraph = next(one for one in file.paragraphs if "float" in one.text)
    run = next(run for run in paragraph.runs if "float" in run.text)
    run.text = run.text.replace("float", "buoy")
    paragraph.insert_paragraph_before("A row from elsewhere.")
    file.save(str(path))

    back = page.get_by_role("region", name="Bring a file back")
    back.locator("input[type=file]").set_input_files(str(path))
    expect(back.get_by_text("2 changes in “Back.docx”")).to_be_visible()
    changes = back.get_by_role("list", name="Changes").get_by_role("listitem")
    expect(changes).to_have_count(2)
    expect(changes.filter(has_text="buoy")).to_contain_text("float")
    assert serious_findings(page) == []
    tick(back.get_by_role("checkbox", name="put in"))
    back.get_by_role("button", name="Take over 1 change").click()
    expect(page.get_by_text("1 change taken over from “Back.docx”")).to_be_visible()

    tick(page.get_by_role("checkbox", name="DOCX", exact=True))
    tick(page.get_by_role("checkbox", name="PDF", exact=True))
    pdf = tmp_path / "Back.pdf"
    deliver(page, "PDF", pdf)
    said = "".join(one.get_textpage().get_text_range() for one in pdfium.PdfDocument(pdf))
    assert "The buoy was found" in said
    assert "A row from elsewhere" not in said

    back.locator("input[type=file]").set_input_files(str(pdf))
    expect(back.get_by_role("alert")).to_contain_text("no DOCX file")


def test_a_word_processor_file_is_taken_in_corrected_and_delivered(page, application, drop, tmp_path):
    file = docx.Document()
    file.add_heading("Tides", 1)
    file.add_paragraph("The float was found hard against the wire.")
    file.add_table(1, 2).cell(0, 0).text = "North pier"
    path = tmp_path / "From elsewhere.docx"
    file.save(str(path))
    take_in(page, application, drop, path)
    expect(docket(page, "From elsewhere.docx")).to_contain_text("word-processor file")
    open_desk(page, "From elsewhere.docx")
    for said in ("The float was found", "North pier"):
        strip = row(page, said).get_by_role("img", name="Source, page 1")
        expect(strip).to_be_visible()
        page.wait_for_function("image => image.naturalHeight > 10", arg=strip.element_handle())
    type_in(page, "The float was found")
    page.keyboard.press("End")
    page.keyboard.type(" Twice.")
    saved(page, 1)
    page.get_by_role("link", name="Deliver").click()
    made = tmp_path / "Out.docx"
    deliver(page, "DOCX", made)
    assert [one.text for one in docx.Document(str(made)).paragraphs] == [
        "Tides",
        "The float was found hard against the wire. Twice.",
    ]
    assert serious_findings(page) == []
