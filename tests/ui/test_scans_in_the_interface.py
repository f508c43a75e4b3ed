"""Scans and photos in the interface: one document of several files, ways of reading, handwriting."""

from __future__ import annotations

import numpy as np
import pytest
import scan_effects
from PIL import Image
from playwright.sync_api import expect

from tests.ui.conftest import serious_findings
from tests.ui.test_interface import docket, open_desk, row, saved


@pytest.fixture
def scans(typeset, tmp_path):
    """Pictures of pages, one for each text, named after their first words."""

    def make(*texts: str):
        chance = np.random.default_rng(8)
        paths = []
        for text in texts:
            sheet = scan_effects.printed(scan_effects.drawn(typeset(text), 1, 170), chance)
            path = tmp_path / f"{' '.join(text.split()[:2])}.png"
            Image.fromarray(sheet).save(path, dpi=(170, 170))
            paths.append(path)
        return paths

    return make


UPPER = "Upper sheet of the log, found on the stairs in the morning."
LOWER = "Lower sheet of the log, found under the clock at noon."


def test_files_become_one_document_and_change_places(page, application, drop, scans):
    upper, lower = scans(UPPER, LOWER)
    page.goto(application.address)
    page.get_by_role("button", name="Take files in").wait_for()
    drop(page, upper, lower)
    dialog = page.get_by_role("dialog", name="One document or 2?")
    expect(dialog.get_by_role("button", name=f"{upper.name}: up")).to_be_disabled()
    dialog.get_by_role("textbox", name="Name of the document").fill("Log of the stairs")
    dialog.get_by_role("button", name="Join into one document").click()
    whole = docket(page, "Log of the stairs")
    expect(whole.locator(".state")).to_have_text("to correct")
    expect(whole).to_contain_text("2 pages")
    expect(page.get_by_role("article")).to_have_count(1)

    whole.get_by_role("button", name="Order").click()
    dialog = page.get_by_role("dialog", name="Order of the files")
    expect(dialog.get_by_role("listitem")).to_contain_text([upper.name, lower.name])
    page.wait_for_timeout(400)  # while it fades in, its contrast is not yet its own
    assert serious_findings(page) == []
    dialog.get_by_role("button", name=f"{upper.name}: down").click()
    # Something else happens to the document: the order that was chosen stays.
    requests, api = page.context.request, f"{application.address}api"
    (row,) = requests.get(f"{api}/documents").json()
    token = requests.get(f"{api}/session").json()["token"]
    headers = {"X-Evenquill-Token": token}
    requests.patch(f"{api}/documents/{row['id']}", data={"name": "Log of the stairs, 1971"}, headers=headers)
    expect(page.get_by_role("article", name="Log of the stairs, 1971")).to_have_count(1)
    page.wait_for_timeout(500)
    dialog.get_by_role("button", name="Put in this order").click()
    expect(dialog).to_be_hidden()
    open_desk(page, "Log of the stairs, 1971")
    expect(page.locator(".line .text")).to_have_text([LOWER, UPPER])


def test_documents_of_the_tray_are_chosen_and_joined_with_the_keyboard(page, application, drop, scans):
    for path in scans(UPPER, LOWER):
        page.goto(application.address)
        page.get_by_role("button", name="Take files in").wait_for()
        drop(page, path)
        expect(docket(page, path.name).locator(".state")).to_have_text("to correct")
    page.get_by_role("button", name="Join documents").press("Enter")
    expect(page.get_by_role("button", name="Join none")).to_be_visible()
    for box in page.get_by_role("checkbox").all():
        box.press("Space")
    page.get_by_role("button", name="Join these 2").press("Enter")
    dialog = page.get_by_role("dialog", name="One document or 2?")
    expect(dialog.get_by_role("listitem")).to_have_count(2)
    dialog.get_by_role("button", name="Join into one document").press("Enter")
    expect(page.get_by_role("article")).to_have_count(1)
    expect(page.locator(".state")).to_have_text("to correct")
    expect(page.get_by_role("article")).to_contain_text("2 pages")
    expect(page.get_by_role("button", name="Join documents")).to_be_disabled()


def test_pages_of_a_range_are_read_again_on_a_telephone(page, application, drop, scans, tmp_path):
    sheets = [Image.open(path) for path in scans(UPPER, LOWER, "Third sheet, which nobody has seen since Friday.")]
    sheets[0].save(tmp_path / "log.tif", save_all=True, append_images=sheets[1:], dpi=(170, 170))
    page.set_viewport_size({"width": 390, "height": 800})
    page.goto(application.address)
    page.get_by_role("button", name="Take files in").wait_for()
    drop(page, tmp_path / "log.tif")
    expect(docket(page, "log.tif").locator(".state")).to_have_text("to correct")
    open_desk(page, "log.tif")
    expect(page.locator(".line .text")).to_have_count(3)
    page.keyboard.press("g")
    panel = page.get_by_role("dialog", name="How page 1 is read")
    expect(panel).to_contain_text("Language: English")
    panel.get_by_role("radio", name="from … to …").check()
    panel.get_by_role("spinbutton", name="From page").fill("2")
    panel.get_by_role("spinbutton", name="To page").fill("3")
    panel.get_by_role("checkbox", name="German").check()
    page.wait_for_timeout(400)  # while it fades in, its contrast is not yet its own
    assert serious_findings(page) == []
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    panel.get_by_role("button", name="Read again").click()
    expect(panel).to_be_hidden()
    expect(page.locator("footer .saved")).to_be_visible()
    page.keyboard.press("g")
    panel = page.get_by_role("dialog", name="How page 1 is read")
    expect(panel).to_contain_text("Language: English")
    answer = page.request.get(f"{application.address}api/documents").json()[0]
    for number, languages in ((1, ["eng"]), (2, ["deu"]), (3, ["deu"])):
        page.wait_for_function(
            """async ([address, wanted]) => {
                const page = await (await fetch(address)).json();
                return JSON.stringify(page.languages) === JSON.stringify(wanted);
            }""",
            arg=[f"{application.address}api/documents/{answer['id']}/pages/{number}", languages],
        )


def test_handwriting_is_kept_as_the_clerk_likes(page, application, drop, scans):
    pen = 'text(15pt, fill: rgb("#2244a0"), style: "italic", font: "New Computer Modern")[zqv xkw jjq]'
    hand = f"#place(bottom + left, dy: -30mm, rotate(-6deg, {pen}))"
    (path,) = scans(f"Note of the keeper: the float was found hard against the guide wire.\n{hand}")
    page.goto(application.address)
    page.get_by_role("button", name="Take files in").wait_for()
    drop(page, path)
    expect(docket(page, path.name).locator(".state")).to_have_text("to correct")
    open_desk(page, path.name)
    picture = page.locator(".slot", has=page.locator(".proof img"))
    expect(picture).to_have_count(1)
    picture.locator(".proof").click()
    tools = page.get_by_role("group", name="Keep the handwriting")
    expect(tools).to_be_visible()
    assert serious_findings(page) == []
    tools.get_by_role("button", name="As text").click()
    saved(page, 1)
    expect(page.get_by_text("Set aside: handwriting")).to_be_visible()
    expect(picture).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    saved(page, 2)
    expect(picture).to_have_count(1)
    expect(row(page, "guide wire").locator(".line")).to_be_visible()
