"""The real application in a process of its own, and Debian's Chromium looking at it."""

from __future__ import annotations

import base64
import contextlib
import json
import mimetypes
import os
import re
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Browser, Locator, Page, Route, expect, sync_playwright

CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
PATIENCE = 180.0
STILL = """() => document.getAnimations().every(
    (one) => one.playState !== "running" || one.effect.getTiming().iterations === Infinity
)"""

# Both cores may be busy with other tests, and the machine with other work: what takes seconds here took a minute there.
expect.set_options(timeout=PATIENCE * 1000)


class Application:
    """A server on a data folder; it can be killed and started again."""

    def __init__(self, data: Path, command: str, *options: str) -> None:
        self.data = data
        self.options = options
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.address = f"http://127.0.0.1:{self.port}/"
        self.start(command)

    def start(self, command: str = "serve") -> None:
        arguments = [sys.executable, "-m", "evenquill", command, "--port", str(self.port), "--data", str(self.data)]
        arguments += self.options
        self.process = subprocess.Popen(arguments, stdout=subprocess.DEVNULL, start_new_session=True)
        end = time.monotonic() + PATIENCE
        while True:
            try:
                urllib.request.urlopen(self.address + "api/session", timeout=5).close()
            except OSError:
                assert self.process.poll() is None, "the server stopped"
                assert time.monotonic() < end, "the server does not answer"
                time.sleep(0.1)
            else:
                return

    def wait_until_idle(self) -> None:
        """Waits until no work is left in the background."""
        end = time.monotonic() + PATIENCE
        with contextlib.closing(sqlite3.connect(self.data / "evenquill.sqlite3")) as connection:
            while connection.execute("SELECT 1 FROM jobs WHERE state IN ('waiting', 'running')").fetchone():
                assert time.monotonic() < end, "work in the background does not end"
                time.sleep(0.1)

    def empty_tray(self) -> None:
        """Deletes all documents."""
        rows = json.load(urllib.request.urlopen(self.address + "api/documents"))
        token = json.load(urllib.request.urlopen(self.address + "api/session"))["token"]
        for one in rows:
            address = f"{self.address}api/documents/{one['id']}"
            request = urllib.request.Request(address, headers={"X-Evenquill-Token": token}, method="DELETE")
            urllib.request.urlopen(request).close()

    def copy_data(self, folder: Path) -> None:
        """Copies the data folder of a server that has nothing to do."""
        shutil.copytree(self.data, folder, ignore=shutil.ignore_patterns("evenquill.sqlite3*"))
        source, copy = (sqlite3.connect(one / "evenquill.sqlite3") for one in (self.data, folder))
        with contextlib.closing(source), contextlib.closing(copy):
            source.backup(copy)

    def kill(self) -> None:
        """As a power cut would, its workers too."""
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        made = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        yield made
        made.close()


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    """One application with the demo documents, for tests that leave them as they are."""
    made = Application(tmp_path_factory.mktemp("demo") / "data", "demo")
    yield made
    made.kill()


@pytest.fixture(scope="session")
def shared_application(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    """One application for many tests: to start it, and its first reading, take longer than most of them."""
    made = Application(tmp_path_factory.mktemp("shared") / "data", "serve")
    yield made
    made.kill()


@pytest.fixture
def application(shared_application: Application) -> Iterator[Application]:
    """An application with an empty in-tray. What a test sets for the whole office is there for later ones too."""
    yield shared_application
    shared_application.empty_tray()


@pytest.fixture
def page(browser: Browser) -> Iterator[Page]:
    """A window of the usual size; what it logs as an error, or asks of another host, fails the test."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, accept_downloads=True)
    made = context.new_page()
    wrong: list[str] = []
    made.on("pageerror", lambda error: wrong.append(str(error)))
    made.on("request", lambda request: None if _is_local(request.url) else wrong.append(request.url))
    made.set_default_timeout(PATIENCE * 1000)
    yield made
    context.close()
    assert not wrong


def _is_local(address: str) -> bool:
    return bool(re.match(r"(http://127\.0\.0\.1:|data:|blob:)", address))


Drop = Callable[..., None]


@pytest.fixture
def drop() -> Drop:
    """Drops files on the page, as a hand with a mouse does."""

    def onto(page: Page, *paths: Path) -> None:
        transfer = page.evaluate_handle("() => new DataTransfer()")
        for path in paths:
            page.evaluate(
                """([transfer, name, type, bytes]) => transfer.items.add(
                     new File([Uint8Array.from(atob(bytes), c => c.charCodeAt(0))], name, {type}))""",
                [transfer, path.name, mimetypes.guess_type(path.name)[0], base64.b64encode(path.read_bytes()).decode()],
            )
        page.dispatch_event("main", "drop", {"dataTransfer": transfer})

    return onto


@pytest.fixture(scope="session")
def folders_of_read_files() -> dict[str, Path]:
    """Data folders with one file each that is read, by the file's name."""
    return {}


@pytest.fixture
def application_with(
    browser: Browser,
    drop: Drop,
    tmp_path: Path,
    tmp_path_factory: pytest.TempPathFactory,
    shared_application: Application,
    folders_of_read_files: dict[str, Path],
) -> Iterator[Callable[[Path], Application]]:
    """Starts an application that has one file in its in-tray, read. Each file is read once for all tests, which get copies."""
    started: list[Application] = []

    def start(path: Path) -> Application:
        if path.name not in folders_of_read_files:
            page = browser.new_page()
            page.goto(shared_application.address)
            page.get_by_role("button", name="Take files in").wait_for()
            drop(page, path)
            expect(page.get_by_role("article", name=path.name).locator(".state")).to_have_text("to correct")
            page.close()
            shared_application.wait_until_idle()
            folders_of_read_files[path.name] = tmp_path_factory.mktemp("read") / "data"
            shared_application.copy_data(folders_of_read_files[path.name])
            shared_application.empty_tray()
        shutil.copytree(folders_of_read_files[path.name], tmp_path / "data")
        started.append(Application(tmp_path / "data", "serve"))
        return started[-1]

    yield start
    for one in started:
        one.kill()


def act(page: Page, menu: str, name: str) -> None:
    """Does something from one of the menus under the row in hand, with the keys."""
    page.get_by_role("toolbar").get_by_role("button", name=menu).focus()
    page.keyboard.press("Enter")
    choose(page, name)


@contextlib.contextmanager
def held_back(page: Page, address: str) -> Iterator[list[Route]]:
    """Holds the first request to an address back that is made within, and waits for it at the end."""
    held: list[Route] = []
    page.route(address, lambda route: held.append(route), times=1)
    yield held
    for _ in range(200):
        if held:
            return
        page.wait_for_timeout(25)
    raise AssertionError(f"nothing was asked of {address}")


def choose(page: Page, name: str) -> None:
    """Does something from the menu that is open, with the keys."""
    for _ in range(30):
        if page.locator(":focus").inner_text() == name:
            break
        page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_role("menu")).to_have_count(0)


def tick(box: Locator) -> None:
    """Change whether a box is ticked, by the space bar: a click could miss it where what stands above is still growing."""
    ticked = box.is_checked()
    box.press("Space")
    expect(box).to_be_checked(checked=not ticked)


def serious_findings(page: Page) -> list[str]:
    """What axe-core finds that keeps people out: rule and first place of each serious or critical violation. Colours are looked at once
    they have stopped changing."""
    page.wait_for_function(STILL)
    found = Axe().run(page).response["violations"]
    return [
        f"{one['id']}: {one['nodes'][0]['html'][:160]}" for one in found if one["impact"] in ("serious", "critical")
    ]
