"""A server and a browser for tests that work as a person does."""

from __future__ import annotations

import atexit
import re
import time
from collections.abc import Callable
from functools import lru_cache
from typing import TypeVar

from playwright.sync_api import Browser, ConsoleMessage, Locator, Page, expect, sync_playwright

from sandscale.services.keeping.acting import Actor
from sandscale.services.people import signing_in
from sandscale.store.database import database
from sandscale.store.models import Person, Project
from sandscale.web.api import COOKIE
from tests import scene
from tests.copies import copy_of
from tests.served import served

CHROMIUM = "/usr/bin/chromium-headless-shell"
ARGUMENTS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync",
    "--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1",
]  # fmt: skip
# What a refused request, or the map library's picking, leaves on the console; everything else there fails the test.
EXPECTED = (
    "ERR_FAILED",
    "status of 401",
    "status of 404",
    "status of 409",
    "status of 422",
    "willReadFrequently",
)
# How long a test waits for what must come, in milliseconds: how fast a machine is isn't what is tested.
PATIENCE = 90_000
T = TypeVar("T")
expect.set_options(timeout=PATIENCE)


@lru_cache(maxsize=1)
def chromium() -> Browser:
    """One browser for all tests of this process; each test has pages of its own."""
    playwright = sync_playwright().start()
    browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS, timeout=120_000)
    atexit.register(playwright.stop)
    atexit.register(browser.close)
    return browser


class DeskCase(scene.DatabaseCase):
    """A test at the desk: the application served as it is in earnest, and Chromium at 1280 × 800."""

    browser: Browser
    address: str

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.address = served().address
        cls.browser = chromium()

    def setUp(self) -> None:
        super().setUp()
        self.said: list[str] = []

    def a_page(self) -> Page:
        """An empty page in a browser of its own."""
        context = self.browser.new_context(
            viewport={"width": 1280, "height": 800},
            accept_downloads=True,
            permissions=["clipboard-read", "clipboard-write"],
        )
        self.addCleanup(context.close)
        page = context.new_page()
        page.set_default_timeout(PATIENCE)
        page.on("console", self.heard)
        page.on("pageerror", lambda error: self.said.append(str(error)))
        return page

    def page_of(self, email: str) -> Page:
        """An empty page where a person has signed in."""
        page = self.a_page()
        token, _ = signing_in.new_session(Person.get(Person.email == email))
        page.context.add_cookies([{"name": COOKIE, "value": token, "url": self.address}])
        return page

    def projects_of(self, email: str) -> Page:
        """A person's list of projects, after signing in."""
        page = self.page_of(email)
        page.goto(self.address)
        expect(page.get_by_role("heading", name="Projects", exact=True)).to_be_visible()
        return page

    def heard(self, message: ConsoleMessage) -> None:
        if message.type in ("error", "warning") and not any(each in message.text for each in EXPECTED):
            self.said.append(message.text)

    def tearDown(self) -> None:
        self.assertEqual(self.said, [], "the page complained on its console")


class ProjectCase(DeskCase):
    """A project of one's own for each test, with nothing in it, and its owner at the desk."""

    name = "Test project"

    def setUp(self) -> None:
        super().setUp()
        self.actor = self.begun()
        self.project = Project.get_by_id(self.actor.project_id)
        self.page = self.page_of(scene.email_of(self.actor.person_id))

    def begun(self) -> Actor:
        """The owner of the project that a test begins with."""
        return scene.project(self.name)

    def go(self, path: str) -> Page:
        self.page.goto(f"{self.address}/projects/{self.project.id}{path}")
        return self.page

    def own(self, model: type, **named: str) -> int:
        conditions = [
            model.project == self.project.id,
            *(getattr(model, key) == value for key, value in named.items()),
        ]
        return int(model.get(*conditions).id)

    def once(self, found: Callable[[], T | None]) -> T:
        """What a job works out, once there is something of it; looked for as screens read, at one moment."""
        ends = time.monotonic() + PATIENCE / 1000
        while time.monotonic() < ends:
            with database.atomic("REPEATABLE READ"):
                if (it := found()) is not None:
                    return it
            self.page.wait_for_timeout(100)
        raise AssertionError("It never came to that.")


class DemoCase(ProjectCase):
    """A copy of the demonstration for each test."""

    demonstration: int

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.demonstration = scene.demonstration().project_id

    def begun(self) -> Actor:
        person = scene.person("Asta Venn")
        return Actor(person, copy_of(self.demonstration, person).id, "owner")


def type_row(page: Page, *cells: str) -> None:
    """Type cells from the active one to the right, as into a spreadsheet."""
    for cell in cells:
        page.keyboard.type(cell)
        page.keyboard.press("Tab")


def choose(page: Page | Locator, label: str, typed: str, option: str = "") -> None:
    """Pick from a list that is found by typing: what is just as typed, or what holds some words."""
    whole = page if isinstance(page, Page) else page.page
    expect(whole.locator(".n-base-select-option:visible")).to_have_count(0)
    page.get_by_label(label, exact=True).fill(typed)
    words = option or re.compile(f"^{re.escape(typed)}$")
    whole.locator(".n-base-select-option:visible").filter(has_text=words).first.click()


def pick(page: Page, table: str, row: str, column: int, words: str) -> None:
    """Pick in a cell by keys: its list opened, found by typing, taken by Enter."""
    cell(page, table, row, column).click()
    page.keyboard.press("F2")
    page.keyboard.type(words)
    expect(page.locator(".n-base-select-option:visible").first).to_contain_text(words)
    page.keyboard.press("Enter")
    saved(page)


def as_text(page: Page) -> None:
    """Show a make-up as its text."""
    opener = page.get_by_role("button", name=re.compile("^As (text|a form)$"))
    if opener.inner_text() == "As text":
        opener.click()


def write_text(page: Page, text: str) -> None:
    """Write the whole text of a make-up."""
    as_text(page)
    page.locator(".cm-content").click()
    page.keyboard.press("Control+a")
    page.keyboard.insert_text(text)


def text_of(page: Page) -> str:
    """What stands in the text of a make-up."""
    as_text(page)
    return "\n".join(line.strip("\n") for line in page.locator(".cm-line").all_inner_texts())


def make_up(page: Page) -> Locator:
    """What an element's make-up asks, opened in the working column's place."""
    opener = page.get_by_role("button", name=re.compile("^Make-up:"))
    if opener.get_attribute("aria-expanded") == "false":
        opener.click()
    return page.get_by_role("region", name=re.compile("^Make-up of"))


# Looked at with every frame: what asks now and then comes late; by role, the whole page is gone through.
SAVED = """(patience) => new Promise((done, fail) => {
  const until = Date.now() + patience
  const look = () => {
    const says = document.querySelector('footer [role=status]')?.textContent
    if (says === 'saved') done()
    else if (Date.now() > until) fail(new Error(`not saved: ${says}`))
    else requestAnimationFrame(look)
  }
  requestAnimationFrame(() => setTimeout(look))
})"""


def saved(page: Page) -> None:
    """Wait until all is saved, what was done last too."""
    page.evaluate(SAVED, PATIENCE)


def lines_read(page: Page) -> Locator:
    """The sheet, once the drawing's own lines attract the pointer."""
    board = page.locator("[data-test=sheet]")
    expect(board).to_have_attribute("data-lines", re.compile("[1-9]"))
    return board


def cell(page: Page, table: str, row: str | re.Pattern[str], column: int) -> Locator:
    """A cell of a ledger table, by a text of its row."""
    return (
        page.get_by_role("grid", name=table)
        .get_by_role("row")
        .filter(has_text=row)
        .get_by_role("gridcell")
        .nth(column)
    )


class SheetOnScreen:
    """Where a sheet's points lie on the screen, for a view fitted to the whole sheet and zoomed in from there."""

    def __init__(self, page: Page, size: tuple[float, float], steps: int = 0) -> None:
        box = page.locator("[data-test=sheet]").bounding_box()
        assert box is not None
        padding = 16
        scale = min((box["width"] - 2 * padding) / size[0], (box["height"] - 2 * padding) / size[1])
        self.scale = scale * 2 ** (steps * 0.5)
        self.centre = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        self.middle = (size[0] / 2, size[1] / 2)
        self.page = page

    def at(self, point: tuple[float, float]) -> tuple[float, float]:
        return (
            self.centre[0] + (point[0] - self.middle[0]) * self.scale,
            self.centre[1] - (point[1] - self.middle[1]) * self.scale,
        )

    def move(self, point: tuple[float, float]) -> None:
        """Bring the pointer there, by way of a place beside it, as a hand does."""
        x, y = self.at(point)
        self.page.mouse.move(x + 3, y + 3)
        self.page.mouse.move(x, y)

    def click(self, point: tuple[float, float]) -> None:
        self.move(point)
        self.page.mouse.click(*self.at(point))
        self.page.wait_for_timeout(60)
