"""Takes one picture of each main view, from the demo documents: ``python script/take_screenshots.py FOLDER``."""

from __future__ import annotations

import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Browser, Page, expect, sync_playwright

FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
REPORT = "North Pier gauge, inspection report.pdf"
BUNDLE = "Gauge report with old sheets.pdf"
TIDE_TABLE = "Tide table, ferry slip 1976.pdf"
REVIEW = "The gauges of Skerrin, a review.pdf"
FORMULAS = "Reckoning the tide, sheet 12.pdf"
NOTICE = "Notice to mariners 14.pdf"
MEMORANDUM = "Memorandum on winter readings, 1971.pdf"


def main(folder: Path) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        with tempfile.TemporaryDirectory() as data, _serving("demo", data) as address:
            _take(browser, address, folder, Path(data))
        with tempfile.TemporaryDirectory() as data:
            made = [sys.executable, "-m", "evenquill", "account", "add", "Oske", "--data", data]
            subprocess.run(made, input="keel and tide 77\n", text=True, check=True)
            with _serving("serve", data, "--sign-in") as address:
                _signing_in(browser, address, folder)
        browser.close()


@contextmanager
def _serving(command: str, data: str, *options: str) -> Iterator[str]:
    """The address of an application on a data folder."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    address = f"http://127.0.0.1:{port}/"
    server = subprocess.Popen(
        [sys.executable, "-m", "evenquill", command, "--port", str(port), "--data", data, *options]
    )
    try:
        _until_it_answers(address)
        yield address
    finally:
        server.terminate()
        server.wait()


def _take(browser: Browser, address: str, folder: Path, data: Path) -> None:
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.goto(address)
    _in_tray(page, address)
    page.screenshot(path=folder / "in-tray.png")
    _desk(page, MEMORANDUM)
    _settled(page)
    page.screenshot(path=folder / "desk-scan.png")
    page.get_by_role("button", name="Page", exact=True).click()
    page.get_by_role("checkbox", name="English").wait_for()
    _settled(page)
    page.screenshot(path=folder / "page-reading.png")
    page.keyboard.press("Escape")
    page.wait_for_timeout(400)
    page.keyboard.press("e")
    page.locator(".region .body").nth(6).click()
    _settled(page)
    page.screenshot(path=folder / "sheet.png")
    page.keyboard.press("e")
    page.wait_for_timeout(400)
    _slip(page)
    page.screenshot(path=folder / "query-slip.png")
    page.keyboard.press("Escape")
    page.keyboard.press("i")
    page.get_by_role("dialog", name="Queries").wait_for()
    _settled(page)
    page.screenshot(path=folder / "queries.png")
    _in_tray(page, address)
    _desk(page)
    page.get_by_role("button", name="3", exact=True).click()
    page.locator(".slot", has_text="The float was found").locator(".text").click()
    _settled(page)
    page.screenshot(path=folder / "desk-rows.png")
    page.keyboard.press("Escape")
    page.keyboard.press("s")
    page.get_by_role("button", name="Heading 1").click()
    _settled(page)
    page.screenshot(path=folder / "desk-styles.png")
    page.get_by_role("button", name="Close the styles").click()
    _in_tray(page, address)
    _desk(page, BUNDLE)
    page.get_by_role("button", name="Outcome").click()
    page.get_by_text("Set in").wait_for()
    expect(page.get_by_text("trying")).to_have_count(0, timeout=60_000)
    page.get_by_role("button", name="Page 5 of the source").click()
    _settled(page)
    page.screenshot(path=folder / "outcome.png")
    _in_tray(page, address)
    _desk(page, TIDE_TABLE)
    page.locator("td").nth(12).locator(".text").click()
    page.keyboard.press("Alt+Shift+ArrowRight")
    page.keyboard.press("Alt+Shift+ArrowDown")
    page.get_by_role("toolbar").get_by_role("button", name="Columns").click()
    _settled(page)
    page.screenshot(path=folder / "desk-table.png")
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.keyboard.press("Control+f")
    page.get_by_role("textbox", name="Find", exact=True).fill("slip")
    page.get_by_role("textbox", name="Make it").fill("Slip")
    page.get_by_role("listitem").first.wait_for()
    _settled(page)
    page.screenshot(path=folder / "desk-find.png")
    _in_tray(page, address)
    _desk(page, FORMULAS)
    page.get_by_role("group", name="Displayed equation (4)").click()
    page.get_by_role("combobox", name="TeX").wait_for()
    _settled(page)
    page.screenshot(path=folder / "desk-equation.png")
    _in_tray(page, address)
    _desk(page, REVIEW)
    page.keyboard.press("u")
    page.get_by_role("button", name="1.1 What was asked").click()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    for _ in range(3):
        page.keyboard.press("Shift+ArrowDown")
    _settled(page)
    page.screenshot(path=folder / "desk-outline.png")
    _in_tray(page, address)
    _desk(page)
    page.get_by_role("link", name="Deliver").click()
    page.get_by_role("button", name="Deliver as DOCX").click()
    page.get_by_role("cell").first.wait_for()
    _settled(page)
    page.screenshot(path=folder / "deliver.png")
    _in_tray(page, address)
    _desk(page, NOTICE)
    page.get_by_role("link", name="Deliver").click()
    back = page.get_by_role("region", name="Bring a file back")
    (edited,) = data.glob("*edited elsewhere*")
    back.locator("input[type=file]").set_input_files(edited)
    back.get_by_role("list", name="Changes").get_by_role("listitem").first.wait_for()
    back.evaluate("(region) => region.scrollIntoView()")
    _settled(page)
    page.screenshot(path=folder / "changes-from-outside.png")

    phone = browser.new_page(viewport={"width": 390, "height": 800}, device_scale_factor=2)
    _in_tray(phone, address)
    phone.screenshot(path=folder / "in-tray-phone.png")
    _desk(phone)
    phone.locator(".slot", has_text="The recording gauge").scroll_into_view_if_needed()
    phone.locator(".slot", has_text="The recording gauge").locator(".text").click()
    _settled(phone)
    phone.screenshot(path=folder / "desk-phone.png")
    _in_tray(phone, address)
    _desk(phone, MEMORANDUM)
    _settled(phone)
    _slip(phone)
    phone.screenshot(path=folder / "query-slip-phone.png")


def _signing_in(browser: Browser, address: str, folder: Path) -> None:
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.goto(address)
    page.get_by_label("Name", exact=True).fill("Oske")
    _settled(page)
    page.screenshot(path=folder / "sign-in.png")


def _in_tray(page: Page, address: str) -> None:
    page.goto(address)
    expect(page.get_by_role("article")).to_have_count(16)
    page.locator(".state[data-state='reading'], .state[data-state='waiting']").first.wait_for(
        state="detached", timeout=150_000
    )
    _settled(page)


def _desk(page: Page, name: str = REPORT) -> None:
    page.get_by_role("article", name=name).get_by_role("link", name="Open").click()
    page.locator(".row").first.wait_for()


def _slip(page: Page) -> None:
    """Takes the query in hand that says most: a word that the list does not know."""
    page.get_by_role("button", name="Queries", exact=True).click()
    for _ in range(30):
        if "not in the" in page.locator(".slip .what").inner_text():
            break
        page.keyboard.press("n")
        page.wait_for_timeout(200)
    _settled(page)


def _settled(page: Page) -> None:
    """Waits for strips, fonts and fading to be done."""
    page.wait_for_load_state("load")
    page.evaluate("Promise.all([...document.images].map(image => image.decode().catch(() => null)))")
    page.wait_for_timeout(900)


def _until_it_answers(address: str) -> None:
    end = time.monotonic() + 90
    while True:
        try:
            urllib.request.urlopen(address, timeout=5).close()
        except OSError:
            if time.monotonic() > end:
                raise
            time.sleep(0.2)
        else:
            return


if __name__ == "__main__":
    main(Path(sys.argv[1]))
