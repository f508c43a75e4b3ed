"""The interface as a clerk uses it, in a real browser against the real server."""

from __future__ import annotations

import io
import re
from pathlib import Path
from weakref import WeakKeyDictionary

import docx
import numpy as np
import pikepdf
import pytest
import scan_effects
from PIL import Image
from playwright.sync_api import Page, expect

from tests.ui.conftest import act, held_back, serious_findings

DEMO_DOCUMENTS = 16
SOURCE = """= North Pier
The float was found hard against the guide wire.

The well was pumped dry and the orifice cleared of weed.

A last remark of the keeper.
#pagebreak()
== Ferry slip
The pressure gauge worked without interruption."""


def take_in(page: Page, application, drop, *paths: Path) -> None:
    page.goto(application.address)
    drop(page, *paths)
    for path in paths:
        expect(docket(page, path.name).locator(".state")).to_have_text("to correct")


def docket(page: Page, name: str):
    return page.get_by_role("article", name=name)


def open_desk(page: Page, name: str) -> None:
    docket(page, name).get_by_role("link", name="Open").click()
    page.locator(".row").first.wait_for()
    FIRST_REVISIONS[page] = shown_revision(page)


FIRST_REVISIONS: WeakKeyDictionary[Page, int] = WeakKeyDictionary()
"""The revision of the document that a window opened; how many there are of a first reading depends on how fast it was."""


def shown_revision(page: Page) -> int:
    return int(page.locator("footer .saved").inner_text().rpartition(" ")[2])


def row(page: Page, text: str):
    return page.locator(".slot", has=page.locator(".proof", has_text=text))


def type_in(page: Page, text: str) -> None:
    """Clicks on the row with this text and waits until it is open for typing."""
    row(page, text).locator(".text").click()
    open_for_typing(page)


def open_for_typing(page: Page) -> None:
    """Waits until the editor has the focus, and then as long as a hand needs from the mouse to the keys."""
    expect(page.locator(".typing")).to_be_focused()
    page.wait_for_timeout(300)


def saved(page: Page, changes: int) -> None:
    """Waits until that many changes, since the document was opened, are said to be saved."""
    revision = FIRST_REVISIONS[page] + changes
    expect(page.locator("footer .saved")).to_have_text(re.compile(rf"^(Saved .*|All saved) · revision {revision}$"))


def test_the_whole_way_and_a_power_cut_in_the_middle(page, application, drop, typeset, tmp_path):
    take_in(page, application, drop, typeset(SOURCE, "North Pier"))
    assert page.get_by_role("img", name="2 of 2 pages read").is_visible()
    open_desk(page, "North Pier.pdf")
    strip = row(page, "guide wire").get_by_alt_text("Source, page 1")
    expect(strip).to_be_visible()
    assert strip.evaluate("image => image.decode().then(() => image.naturalWidth)") > 300

    # Edit a word at the end of the first paragraph.
    type_in(page, "guide wire")
    page.keyboard.press("End")
    page.keyboard.type(" It was freed.")
    saved(page, 1)
    # Split the next one and write on.
    type_in(page, "orifice")
    page.keyboard.press("Home")
    for _ in range(len("The well was pumped dry")):
        page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    expect(page.locator(".typing")).to_have_text("and the orifice cleared of weed.")
    page.keyboard.type("Then ")
    saved(page, 3)
    # Undo both, do the split again.
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    saved(page, 5)
    page.get_by_role("button", name="Redo").click()
    saved(page, 6)
    # Set the remark aside.
    row(page, "last remark").locator(".gutter").click()
    page.keyboard.press("x")
    saved(page, 7)
    expect(row(page, "last remark").get_by_role("button", name="Bring back")).to_be_visible()

    application.kill()
    application.start()
    page.reload()
    expected = [
        "North Pier", "The float was found hard against the guide wire. It was freed.", "The well was pumped dry",
        "and the orifice cleared of weed.", "Ferry slip", "The pressure gauge worked without interruption.",
    ]  # fmt: skip
    expect(page.locator(".line .text")).to_have_text(expected)
    saved(page, 7)
    # The history is there too.
    page.get_by_role("button", name="Undo").click()
    expect(row(page, "last remark").locator(".line")).to_be_visible()
    page.get_by_role("button", name="Redo").click()
    saved(page, 9)

    page.get_by_role("link", name="Deliver").click()
    with page.expect_download() as download:
        page.get_by_role("button", name="Deliver as DOCX").click()
    assert download.value.suggested_filename == "North Pier.docx"
    opened = docx.Document(io.BytesIO(Path(download.value.path()).read_bytes()))
    assert [paragraph.text for paragraph in opened.paragraphs] == expected
    expect(page.get_by_role("row", name=re.compile("North Pier.docx"))).to_contain_text(str(FIRST_REVISIONS[page] + 9))


def test_fast_fingers_do_not_wait_for_the_server(page, application, drop, typeset):
    take_in(page, application, drop, typeset(SOURCE, "Fast"))
    open_desk(page, "Fast.pdf")
    with held_back(page, "**/operations") as held:
        row(page, "last remark").locator(".gutter").click()
        page.keyboard.press("n")
        page.keyboard.type("Two wordx")
        page.keyboard.press("Backspace")
        page.keyboard.type("s")
        page.keyboard.press("Enter")
        page.keyboard.type("And three more")
        page.keyboard.press("Escape")
        page.keyboard.press("h")
    (insertion,) = held
    insertion.continue_()
    saved(page, 5)
    expect(page.locator(".typing")).to_have_count(0)
    expect(row(page, "And three more").locator(".gutter")).to_have_text("H1")
    texts = page.locator(".line .text").all_text_contents()
    at = texts.index("A last remark of the keeper.")
    assert texts[at + 1 : at + 4] == ["Two words", "And three more", "Ferry slip"]

    # A field of a side panel that is typed into meanwhile keeps the keys.
    page.keyboard.press("Control+f")
    field = page.get_by_role("complementary", name="Find").get_by_label("Find", exact=True)
    with held_back(page, "**/operations") as held:
        row(page, "last remark").locator(".gutter").click()
        page.keyboard.press("n")
        field.click()
    (insertion,) = held
    insertion.continue_()
    expect(page.locator(".typing")).to_have_count(1)
    page.keyboard.type("remark")
    expect(field).to_have_value("remark")


def test_keys_change_rows_without_the_mouse(page, application, drop, typeset):
    take_in(page, application, drop, typeset(SOURCE, "Keys"))
    open_desk(page, "Keys.pdf")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    expect(row(page, "guide wire").locator(".row")).to_have_class(re.compile("active"))
    page.keyboard.press("h")
    expect(row(page, "guide wire").locator(".gutter")).to_have_text("H1")
    page.keyboard.press("]")
    expect(row(page, "guide wire").locator(".gutter")).to_have_text("H2")
    page.keyboard.press("o")
    expect(row(page, "guide wire").locator(".mark")).to_have_text("1.")
    page.keyboard.press("p")
    expect(row(page, "guide wire").locator(".gutter")).to_have_text("¶")
    page.keyboard.press("j")
    expect(row(page, "guide wire").locator(".text")).to_contain_text("guide wire. The well was pumped")
    page.keyboard.press("Alt+ArrowUp")
    expect(page.locator(".line .text").first).to_contain_text("The float")
    page.keyboard.press("n")
    page.keyboard.type("A new row, typed with x and h and ?")
    page.keyboard.press("Escape")
    expect(page.locator(".line .text").nth(1)).to_have_text("A new row, typed with x and h and ?")
    saved(page, 8)
    page.keyboard.press("Enter")
    open_for_typing(page)
    page.keyboard.press("Home")
    page.keyboard.press("Backspace")
    expect(page.locator(".typing")).to_contain_text("cleared of weed. A new row")
    page.keyboard.press("Escape")
    for _ in range(9):
        page.keyboard.press("Control+z")
    expect(page.locator(".line .text")).to_have_text(
        [
            "North Pier", "The float was found hard against the guide wire.",
            "The well was pumped dry and the orifice cleared of weed.", "A last remark of the keeper.", "Ferry slip",
            "The pressure gauge worked without interruption.",
        ]
    )  # fmt: skip
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_contain_text("split the paragraph here")


def test_bold_italic_and_pasted_markup(page, application, drop, typeset):
    take_in(page, application, drop, typeset("Plain words only.", "Bold"))
    open_desk(page, "Bold.pdf")
    type_in(page, "Plain")
    page.keyboard.press("Control+a")
    page.get_by_role("toolbar").get_by_role("button", name="Bold").click()
    page.keyboard.press("Control+i")
    act(page, "Look", "Struck out")
    act(page, "Letters", "Red")
    act(page, "Letters", "On yellow")
    act(page, "Letters", "Larger")
    expect(page.locator(".typing s")).to_have_text("Plain words only.")
    act(page, "Look", "Struck out")
    expect(page.locator(".typing s")).to_have_count(0)
    open_for_typing(page)
    page.keyboard.press("End")
    page.evaluate(
        """() => { const data = new DataTransfer(); data.setData('text/plain', ' <b>no</b> =1+1');
           data.setData('text/html', '<h1>loud</h1>');
           document.querySelector('.typing').dispatchEvent(new ClipboardEvent('paste', {clipboardData: data, bubbles: true})); }"""
    )
    page.keyboard.press("Escape")
    # In how many steps depends on how fast the hand was.
    expect(page.locator("footer .saved")).to_contain_text("aved")
    page.reload()
    expect(page.locator(".line .text")).to_have_text("Plain words only. <b>no</b> =1+1")
    expect(page.locator(".line .text span").first).to_have_css("color", "rgb(179, 38, 30)")
    expect(page.locator(".line .text span").first).to_have_css("background-color", "rgb(255, 233, 168)")
    assert "11.5 * var(--point)" in (page.locator(".line .text span").first.get_attribute("style") or "")
    weight = page.locator(".line .text span").first.evaluate("span => getComputedStyle(span).fontWeight")
    assert weight == "700"


def test_a_picture_is_resized_described_aligned_and_replaced(page, application, drop, typeset, tmp_path):
    Image.effect_noise((300, 150), 60).save(tmp_path / "hut.png")
    Image.new("RGB", (100, 100), "teal").save(tmp_path / "other.png")
    take_in(page, application, drop, typeset('Before\n\n#image("hut.png", width: 60mm)\n\nAfter', "Pictures"))
    open_desk(page, "Pictures.pdf")
    page.get_by_alt_text("Picture without alternative text").click()
    tools = page.get_by_role("toolbar")
    expect(tools.get_by_label("Width, mm")).to_have_value("60.0")
    tools.get_by_label("Width, mm").fill("30")
    tools.get_by_label("Width, mm").press("Enter")
    saved(page, 1)
    tools.get_by_label("Alternative text").fill("The hut on the pier")
    tools.get_by_label("Alternative text").press("Enter")
    expect(page.get_by_alt_text("The hut on the pier")).to_be_visible()
    tools.get_by_label("Alignment").select_option("Middle")
    saved(page, 3)
    tools.get_by_label("Picture to put in its place").set_input_files(tmp_path / "other.png")
    saved(page, 4)
    natural = page.get_by_alt_text("The hut on the pier").evaluate(
        "image => image.decode().then(() => image.naturalWidth)"
    )
    assert natural == 100

    # A strip of it is left, half as wide on the page, then turned.
    tools.get_by_role("button", name="Crop").click()
    sides = page.get_by_role("toolbar", name="What is left of the picture")
    sides.get_by_label("left").fill("50")
    sides.get_by_label("left").press("Enter")
    sides.get_by_label("bottom").fill("20")
    sides.get_by_label("bottom").press("Enter")
    assert serious_findings(page) == []
    sides.get_by_role("button", name="Crop it").click()
    saved(page, 5)
    expect(tools.get_by_label("Width, mm")).to_have_value("15.0")
    tools.get_by_role("button", name="Turn").click()
    saved(page, 6)
    expect(tools.get_by_label("Width, mm")).to_have_value("24.0")
    size = page.get_by_alt_text("The hut on the pier").evaluate(
        "image => image.decode().then(() => [image.naturalWidth, image.naturalHeight])"
    )
    assert size == [80, 50]

    # Text goes around it, which stands at one side then; in the middle no more.
    around = tools.get_by_label("Text around")
    around.check()
    saved(page, 7)
    expect(tools.get_by_label("Alignment")).to_have_value("left")
    tools.get_by_label("Alignment").select_option("Middle")
    saved(page, 8)
    expect(around).not_to_be_checked()

    tools.get_by_role("button", name="New caption").click()
    open_for_typing(page)
    page.keyboard.type("The hut in winter")
    page.keyboard.press("Escape")
    expect(row(page, "Figure 1: The hut in winter").locator("select[aria-label=Kind] option:checked")).to_have_text(
        "Caption"
    )


def test_the_second_of_two_windows_is_told_and_shows_what_is_true(page, browser, application, drop, typeset):
    take_in(page, application, drop, typeset("One row.\n\nAnother row.", "Two windows"))
    open_desk(page, "Two windows.pdf")
    other = browser.new_page()
    other.goto(page.url)
    FIRST_REVISIONS[other] = FIRST_REVISIONS[page]
    # The second window is in the middle of typing when the first one saves.
    type_in(other, "One row")
    row(page, "Another").locator(".gutter").click()
    page.keyboard.press("x")
    saved(page, 1)
    other.keyboard.press("End")
    other.keyboard.type(" Typed late.")
    expect(other.locator(".notices")).to_contain_text("changed in another window")
    expect(other.locator(".notices")).to_contain_text("One row. Typed late.")
    expect(other.get_by_role("button", name="Bring back")).to_be_visible()
    saved(other, 1)
    other.close()


def test_the_same_file_twice_is_asked_about(page, application, drop, typeset):
    path = typeset("Once is enough.", "Once")
    take_in(page, application, drop, path)
    drop(page, path)
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("“Once.pdf” is in the in-tray already")
    dialog.get_by_role("button", name="Take it in once more").click()
    expect(page.get_by_role("article")).to_have_count(2)
    drop(page, path)
    page.get_by_role("dialog").get_by_role("button", name="Open the one that is here").click()
    page.locator(".row").first.wait_for()


def test_dockets_rename_delete_and_come_back(page, application, drop, typeset):
    take_in(page, application, drop, typeset("Text", "Plain"), typeset("Other text", "Second"))
    docket(page, "Plain.pdf").get_by_role("button", name="Rename").click()
    page.get_by_label("New name").fill('<img src=x onerror="boom"> & co')
    docket(page, "Plain.pdf").get_by_role("button", name="Rename").first.click()
    strange = docket(page, '<img src=x onerror="boom"> & co')
    expect(strange).to_be_visible()
    page.get_by_role("searchbox").fill("second")
    expect(page.get_by_role("article")).to_have_count(1)
    page.get_by_role("searchbox").fill("nowhere")
    expect(page.get_by_text("No document has these words")).to_be_visible()
    page.get_by_role("searchbox").fill("")
    page.get_by_label("Order", exact=True).select_option("By name")
    expect(page.get_by_role("article").first).to_contain_text("<img")
    strange.get_by_role("button", name="Delete").click()
    expect(strange).to_have_count(0)
    page.get_by_role("button", name="Bring it back").click()
    expect(strange).to_be_visible()


def test_bad_files_say_what_is_wrong_on_their_docket(page, application, drop, typeset, tmp_path):
    (tmp_path / "note.pdf").write_text("This is no PDF.")
    (tmp_path / "void.pdf").touch()
    with pikepdf.open(typeset("Hidden heights")) as pdf:
        pdf.save(tmp_path / "locked.pdf", encryption=pikepdf.Encryption(owner="kelp", user="seaweed"))
    page.goto(application.address)
    drop(page, tmp_path / "note.pdf", tmp_path / "void.pdf", tmp_path / "locked.pdf")
    # The message goes after some seconds; the docket stays.
    expect(page.locator(".notices")).to_contain_text("“void.pdf” is empty")
    expect(docket(page, "note.pdf")).to_contain_text("This is not a PDF, a picture")
    locked = docket(page, "locked.pdf")
    expect(locked).to_contain_text("locked with a password")
    locked.get_by_label("Password of the file").fill("wrong")
    locked.get_by_role("button", name="Unlock").click()
    expect(locked).to_contain_text("does not open this file")
    locked.get_by_label("Password of the file").fill("seaweed")
    locked.get_by_role("button", name="Unlock").click()
    expect(locked.locator(".state")).to_have_text("to correct")


def test_hundreds_of_pages_stay_few_rows_in_the_window(page, application, drop, typeset):
    many = "\n#pagebreak()\n".join(
        f"== Part {n}\nWhat the keeper saw in part {n}.\n\nAnd more of it." for n in range(1, 301)
    )
    page.goto(application.address)
    drop(page, typeset(many, "Long"))
    expect(docket(page, "Long.pdf").locator(".state")).to_have_text("to correct")
    open_desk(page, "Long.pdf")
    expect(page.locator("footer")).to_contain_text("900 rows")
    page.get_by_role("button", name="250", exact=True).click()
    expect(page.get_by_text("What the keeper saw in part 250.")).to_be_in_viewport()
    expect(page.locator("header")).to_contain_text("page 250 of 300")
    assert page.locator(".row").count() < 60
    page.locator(".pane").evaluate("pane => pane.scrollTo(0, pane.scrollHeight)")
    expect(page.get_by_text("What the keeper saw in part 300.")).to_be_visible()
    assert page.locator(".row").count() < 60


def test_first_use_explains_itself_and_the_demo_documents_are_there(page, demo):
    page.goto(demo.address)
    expect(page.get_by_text("Drop PDFs, scans, photos or word-processor files anywhere on this page")).to_be_visible()
    expect(page.get_by_role("article")).to_have_count(DEMO_DOCUMENTS)
    expect(page.locator(".state")).to_have_text(["to correct"] * DEMO_DOCUMENTS, timeout=150_000)
    open_desk(page, "Notice to mariners 14.pdf")
    expect(page.locator("footer .saved")).to_contain_text("All saved")
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()


@pytest.mark.parametrize("width", [1280, 390])
def test_every_view_is_open_to_everybody_and_fits(page, demo, width):
    page.set_viewport_size({"width": width, "height": 800})
    page.goto(demo.address)
    page.get_by_role("article").first.wait_for()
    expect(page.locator(".state")).to_have_text(["to correct"] * DEMO_DOCUMENTS, timeout=150_000)
    assert serious_findings(page) == []
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    open_desk(page, "North Pier gauge, inspection report.pdf")
    page.locator(".line .text").nth(2).click()
    page.locator(".typing").wait_for()
    assert serious_findings(page) == []
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    # By its key, since a telephone has no button for it.
    page.keyboard.press("Escape")
    expect(page.locator(".typing")).to_have_count(0)
    page.keyboard.press("?")
    page.get_by_role("dialog", name="Keys").wait_for()
    page.wait_for_timeout(400)  # while it fades in, its contrast is not yet its own
    assert serious_findings(page) == []
    page.keyboard.press("Escape")
    page.get_by_role("link", name="Deliver").click()
    page.get_by_role("button", name="Deliver as DOCX").wait_for()
    assert serious_findings(page) == []
    assert page.evaluate("document.documentElement.scrollWidth") <= width


def test_a_document_that_is_gone_says_so(page, demo):
    page.goto(demo.address + "#/desk/nobody")
    expect(page.get_by_text("That is no longer there")).to_be_visible()
    page.get_by_role("link", name="To the in-tray").click()
    expect(page.get_by_role("article")).to_have_count(DEMO_DOCUMENTS)


def test_reading_can_be_watched_stopped_and_gone_on_with(page, application, drop, typeset):
    many = "\n#pagebreak()\n".join(f"== Part {n}\n" + "The keeper wrote of wind and water. " * 40 for n in range(150))
    path = typeset(many, "Watched")
    page.goto(application.address)
    drop(page, path)
    watched = docket(page, "Watched.pdf")
    expect(watched.locator(".state")).to_contain_text(re.compile(r"reading [1-9]\d* of 150"))
    expect(watched.locator(".standing")).to_contain_text("reading pages")
    watched.get_by_role("button", name="Stop").click()
    expect(watched).to_contain_text("Reading was stopped.")
    read = int(watched.get_by_role("img").get_attribute("aria-label").split()[0])
    assert 0 < read < 150
    watched.get_by_role("button", name="Read on").click()
    expect(watched.locator(".state")).to_have_text("to correct")
    expect(watched.get_by_role("img", name="150 of 150 pages read")).to_be_visible()


def test_a_note_on_rights_waits_for_the_clerk(page, application, drop, typeset, tmp_path):
    with pikepdf.open(typeset("Text with restrictions.")) as pdf:
        rights = pikepdf.Permissions(extract=False)
        pdf.save(tmp_path / "rights.pdf", encryption=pikepdf.Encryption(owner="kelp", user="", allow=rights))
    page.goto(application.address)
    drop(page, tmp_path / "rights.pdf")
    restricted = docket(page, "rights.pdf")
    expect(restricted).to_contain_text("The author of this file does not allow copying")
    restricted.get_by_role("button", name="I may work on this file").click()
    expect(restricted.locator(".state")).to_have_text("to correct")
    open_desk(page, "rights.pdf")
    page.locator("footer summary").click()
    expect(page.locator("footer")).to_contain_text("does not allow copying")


def test_a_page_kept_as_a_picture_is_marked_on_the_ladder_and_told_at_delivery(
    page, application, drop, typeset, tmp_path
):
    noise = np.random.default_rng(7).normal(128, 40, (420, 300)).clip(0, 255).astype(np.uint8)
    Image.fromarray(noise).save(tmp_path / "scan.png")
    scan = '#set page(margin: 0mm)\n#image("scan.png", width: 100%, height: 100%)\n#pagebreak()\n#set page(margin: 18mm)\nWords.'
    take_in(page, application, drop, typeset(scan, "Mixed"))
    expect(docket(page, "Mixed.pdf")).to_contain_text("mixed: 1 of 2 pages scanned, no text")
    open_desk(page, "Mixed.pdf")
    first = page.get_by_role("navigation", name="Pages").get_by_role("button", name="1")
    expect(first.locator(".remark")).to_be_visible()
    expect(first.locator(".doubts")).to_be_visible()
    page.get_by_role("link", name="Deliver").click()
    expect(page.get_by_text("Nothing on page 1 can be read; it is kept as a picture.")).to_be_visible()


def test_kinds_and_levels_are_chosen_with_the_mouse_too(page, application, drop, typeset):
    take_in(page, application, drop, typeset(SOURCE, "Mouse"))
    open_desk(page, "Mouse.pdf")
    row(page, "guide wire").locator(".gutter").click()
    tools = page.get_by_role("toolbar")
    tools.get_by_label("Kind").select_option("List item")
    expect(row(page, "guide wire").locator(".mark")).to_have_text("•")
    act(page, "Row", "Deeper")
    expect(row(page, "guide wire").locator(".mark")).to_have_text("◦")
    act(page, "Look", "Align: right")
    saved(page, 3)
    act(page, "Row", "Move down")
    saved(page, 4)
    expect(page.locator(".line .text").nth(2)).to_contain_text("guide wire")
    tools.get_by_role("button", name="Set aside").click()
    row(page, "guide wire").get_by_role("button", name="Bring back").click()
    saved(page, 6)
    expect(row(page, "guide wire").locator(".line")).to_be_visible()


def test_what_is_loaded_late_never_undoes_what_was_changed_in_the_meantime(page, application, drop, typeset):
    take_in(page, application, drop, typeset(SOURCE, "Late"))
    with held_back(page, "**/labels") as held:
        open_desk(page, "Late.pdf")
    (route,) = held
    answer = route.fetch()
    row(page, "guide wire").locator(".gutter").click()
    page.get_by_role("toolbar").get_by_label("Kind").select_option("List item")
    expect(row(page, "guide wire").locator(".mark")).to_have_text("•")
    with page.expect_request("**/labels"):
        route.fulfill(response=answer)
    expect(row(page, "guide wire").locator(".mark")).to_have_text("•")


def test_a_photo_and_a_tiff_are_read_and_a_page_again_in_a_language_named(page, application, drop, typeset, tmp_path):
    chance = np.random.default_rng(2)
    german = "Die Pegelstände der Woche wurden überprüft und für genügend befunden."
    photo = scan_effects.photographed(
        scan_effects.printed(scan_effects.drawn(typeset(german, paper="a4")), chance), chance
    )
    (tmp_path / "photo.jpg").write_bytes(scan_effects.as_jpeg(photo, dpi=72))
    sheets = [
        Image.fromarray(scan_effects.printed(scan_effects.drawn(typeset(text, name=text[:5])), chance))
        for text in ("The upper sheet of the log was found on the stairs.", "The lower sheet lay under the clock.")
    ]
    sheets[0].save(tmp_path / "sheets.tif", save_all=True, append_images=sheets[1:], dpi=(200, 200))
    page.goto(application.address)
    page.get_by_role("button", name="Take files in").wait_for()
    drop(page, tmp_path / "photo.jpg", tmp_path / "sheets.tif")
    dialog = page.get_by_role("dialog", name="One document or 2?")
    expect(dialog.get_by_role("listitem")).to_contain_text(["photo.jpg", "sheets.tif"])
    assert serious_findings(page) == []
    dialog.get_by_role("button", name="sheets.tif: up").click()
    expect(dialog.get_by_role("listitem")).to_contain_text(["sheets.tif", "photo.jpg"])
    dialog.get_by_role("button", name="Keep them apart").click()
    expect(docket(page, "sheets.tif").locator(".state")).to_have_text("to correct")
    expect(docket(page, "sheets.tif")).to_contain_text("2 pages · scanned, no text · English")
    expect(docket(page, "photo.jpg").locator(".state")).to_have_text("to correct")

    open_desk(page, "photo.jpg")
    expect(page.locator(".line .text").first).to_contain_text("Pegelstände")
    page.keyboard.press("g")
    panel = page.get_by_role("dialog", name="How page 1 is read")
    expect(panel).to_contain_text("sheet found in the photo and flattened")
    page.wait_for_timeout(400)  # while it fades in, its contrast is not yet its own
    assert serious_findings(page) == []
    panel.get_by_role("radio", name="as it came").check()
    panel.get_by_role("checkbox", name="German").check()
    panel.get_by_role("button", name="Read again").click()
    expect(panel).to_be_hidden()
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    # Reading again is a step of the history: the end of it is seen by that.
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    expect(page.locator(".line .text").first).to_contain_text("überprüft und für genügend befunden")
    expect(page.locator(".row img").first).to_have_attribute("src", re.compile("view=came"))

    page.locator(".line .text").first.click()
    act(page, "Read", "Read again in German")
    expect(page.get_by_text("It was read the same way again.")).to_be_visible()
