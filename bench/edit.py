"""From the keystroke that leaves a cell to “saved” and the new total on screen, and what a colleague's tab
receives.

    SANDSCALE_DATABASE=… python -m bench.edit

Two projects side by side, of 5,000 dimension lines and 500 items and of 50,000 and 5,000; an edit in one,
then in the other, so that a busy machine is as busy for both. A second browser has the same element open as a
colleague."""

from __future__ import annotations

import statistics
import time
from dataclasses import dataclass, field
from typing import Any

from playwright.sync_api import Browser, Page, Response, sync_playwright

from sandscale.services.keeping.acting import Actor
from sandscale.services.people import actions as people
from sandscale.services.projects import actions as projects
from sandscale.store.database import connect, connected, migrate
from sandscale.store.models import Element, Item, ItemLink, Person
from tests.served import Served

from .large_project import make, person

SIZES = ((5_000, 500), (50_000, 5_000))
EDITS, WARM = 40, 5
COLLEAGUE = "bench-colleague@sandhall.example"
# When the page shows that all is saved and its total is another: the time between, as the page's own clock
# tells it.
WATCH = """() => {
  const total = document.querySelector('[data-test=bill-total]')
  const saved = document.querySelector('[role=status]')
  window.shown_ = new Promise((done) => {
    const was = total.textContent, begun = {at: 0}
    const left = (event) => { if (event.key === 'Enter') begun.at = performance.now() }
    addEventListener('keydown', left, {capture: true})
    const look = () => {
      if (begun.at && total.textContent !== was && saved.textContent.trim() === 'saved')
        requestAnimationFrame(() => done(performance.now() - begun.at))
      else requestAnimationFrame(look)
    }
    requestAnimationFrame(look)
  })
}"""


@dataclass
class Tab:
    """A page with the bytes it received, as they came over the wire."""

    page: Page
    received: int = 0
    each: list[int] = field(default_factory=list)

    def heard(self, answer: Response) -> None:
        if "/api/" in answer.url:
            try:
                self.received += answer.request.sizes()["responseBodySize"]
            except Exception:  # an answer that was given up, such as on leaving a page
                return


def tab(browser: Browser, address: str, email: str, path: str) -> Tab:
    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    page.goto(address)
    page.get_by_label("E-mail address").fill(email)
    page.get_by_label("Password").fill("bench-password")
    page.keyboard.press("Enter")
    page.get_by_role("heading", name="Projects", exact=True).wait_for()
    one = Tab(page)
    page.on("response", one.heard)
    page.goto(f"{address}{path}")
    page.get_by_role("grid").get_by_text("Grid 3", exact=True).wait_for(timeout=60_000)
    page.wait_for_timeout(1500)
    return one


def measured_element(actor: Actor) -> int:
    """An element whose every dimension moves the bill: its volume is drawn on by a priced item."""
    mine = (Item.project == actor.project_id) & (Item.amount > 0) & (Element.source == "plain-volume")
    query = ItemLink.select(ItemLink.element).join(Item).switch(ItemLink).join(Element).where(mine)
    return int(query.order_by(ItemLink.id).limit(1).scalar())


def edit(mine: Tab, theirs: Tab, number: int) -> float:
    """One width typed over, left by Enter; gives the milliseconds until all of it stands on screen."""
    row = mine.page.get_by_role("grid").get_by_role("row").filter(has_text=f"Grid {number % 4}")
    row.get_by_role("gridcell").nth(2).click()
    mine.page.wait_for_timeout(1200)  # what the last edit and the cursor asked for has come
    mine.received = theirs.received = 0
    mine.page.evaluate(WATCH)
    mine.page.keyboard.type(f"{0.31 + number / 100:.2f}")
    mine.page.keyboard.press("Enter")
    taken = float(mine.page.evaluate("() => window.shown_"))
    mine.page.wait_for_timeout(2200)  # the working column, the checks, the pulse of the colleague
    mine.each.append(mine.received)
    theirs.each.append(theirs.received)
    return taken


def share(times: list[float], part: float) -> float:
    return sorted(times)[int(len(times) * part)]


def colleague(actors: list[Actor]) -> None:
    known = Person.get_or_none(Person.email == COLLEAGUE)
    if known is None:
        people.add_person("Colleague", COLLEAGUE, "bench-password")
    for actor in actors:
        projects.share(actor, COLLEAGUE, "editor")


def main() -> None:
    connect()
    migrate()
    with connected():
        actors = [make(lines, items)[0] for lines, items in SIZES]
        colleague(actors)
        elements = [measured_element(actor) for actor in actors]
        email = Person.get_by_id(person()).email
    served = Served().wait()
    try:
        with sync_playwright() as playwright:
            arguments = ["--no-sandbox", "--disable-gpu"]
            chromium = playwright.chromium.launch(
                executable_path="/usr/bin/chromium-headless-shell", args=arguments
            )
            tabs: list[tuple[Tab, Tab]] = []
            for actor, element in zip(actors, elements, strict=True):
                path = f"/projects/{actor.project_id}/measure/{element}"
                begun = time.perf_counter()
                mine = tab(chromium, served.address, email, path)
                opened = time.perf_counter() - begun - 1.5
                tabs.append((mine, tab(chromium, served.address, COLLEAGUE, path)))
                print(f"project {actor.project_id}: signed in and the desk open after {opened:.2f} s")
            times: list[list[float]] = [[] for _ in tabs]
            for number in range(EDITS + WARM):
                for (mine, theirs), own in zip(tabs, times, strict=True):
                    own.append(edit(mine, theirs, number))
            tell(tabs, [own[WARM:] for own in times])
    finally:
        served.stop()


def tell(tabs: list[tuple[Tab, Tab]], times: list[list[float]]) -> None:
    for (lines, items), (mine, theirs), own in zip(SIZES, tabs, times, strict=True):
        print(
            f"{lines:,} lines, {items:,} items: median {statistics.median(own):.0f} ms, "
            f"95 of 100 under {share(own, 0.95):.0f} ms, longest {max(own):.0f} ms"
        )
        sent: Any = [
            (kind, one.each[WARM:]) for kind, one in (("own tab", mine), ("colleague's tab", theirs))
        ]
        for kind, each in sent:
            usual, most = statistics.median(each) / 1000, max(each) / 1000
            print(f"    {kind}: {usual:.1f} kB an edit (median), {most:.1f} at most")
    medians = [statistics.median(own) for own in times]
    ratio = share(times[1], 0.95) / share(times[0], 0.95)
    print(
        f"ratio, large to small: {medians[1] / medians[0]:.2f} of the medians, {ratio:.2f} of the 95 of 100"
    )


if __name__ == "__main__":
    main()
