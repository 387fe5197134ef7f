"""From the keystroke that leaves a cell to “saved” and the new total on screen, and what a colleague's tab
receives.

    SANDSCALE_DATABASE=… python -m bench.edit

Two projects side by side, of 5,000 dimension lines and 500 items and of 50,000 and 5,000; an edit in one,
then in the other, so that a busy machine is as busy for both. Then a colleague has the same elements open in
a tab of their own: that is for the bytes, as both would share this machine's processors."""

from __future__ import annotations

import statistics
from dataclasses import dataclass, field

from playwright.sync_api import Browser, Page, Response, sync_playwright

from sandscale.services.keeping.acting import Actor
from sandscale.services.people import accounts as people
from sandscale.store.database import connect, connected, migrate
from sandscale.store.models import Element, Item, ItemLink, Membership, Person
from tests.served import Served

from .large_project import make, person

SIZES = ((5_000, 500), (50_000, 5_000))
EDITS, WARM = 60, 5
WATCHED = 12  # edits with the colleague beside
# By then what the last edit and the cursor asked for has come: the working column, the checks, the pulse.
SETTLED = 1800
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
    return one


def measured_element(actor: Actor) -> int:
    """An element whose every dimension moves the bill: its volume is drawn on by a priced item."""
    mine = (Item.project == actor.project_id) & (Item.amount > 0) & (Element.source == "plain-volume")
    query = ItemLink.select(ItemLink.element).join(Item).switch(ItemLink).join(Element).where(mine)
    return int(query.order_by(ItemLink.id).limit(1).scalar())


def edit(page: Page, number: int) -> float:
    """One width typed over, left by Enter; gives the milliseconds until all of it stands on screen."""
    row = page.get_by_role("grid").get_by_role("row").filter(has_text=f"Grid {number % 4}")
    row.get_by_role("gridcell").nth(2).click()
    page.wait_for_timeout(SETTLED)
    page.evaluate(WATCH)
    page.keyboard.type(f"{0.31 + number / 100:.2f}")
    page.keyboard.press("Enter")
    return float(page.evaluate("() => window.shown_"))


def watched(mine: Tab, theirs: Tab, number: int) -> None:
    """An edit with the bytes that both received by it."""
    mine.page.wait_for_timeout(SETTLED)
    mine.received = theirs.received = 0
    edit(mine.page, number)
    mine.page.wait_for_timeout(SETTLED)
    for one in (mine, theirs):
        one.each.append(one.received)


def share(times: list[float], part: float) -> float:
    return sorted(times)[int(len(times) * part)]


def colleague(actors: list[Actor]) -> None:
    known = Person.get_or_none(Person.email == COLLEAGUE)
    person = known or people.add_person("Colleague", COLLEAGUE, "bench-password")
    for actor in actors:
        place = {"project": actor.project_id, "person": person.id}
        Membership.get_or_create(**place, defaults={"role": "editor"})


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
            paths = [
                f"/projects/{actor.project_id}/measure/{element}"
                for actor, element in zip(actors, elements, strict=True)
            ]
            mine = [tab(chromium, served.address, email, path) for path in paths]
            times: list[list[float]] = [[] for _ in mine]
            for number in range(EDITS + WARM):
                for one, own in zip(mine, times, strict=True):
                    own.append(edit(one.page, number))
            theirs = [tab(chromium, served.address, COLLEAGUE, path) for path in paths]
            for number in range(WATCHED):
                for pair in zip(mine, theirs, strict=True):
                    watched(*pair, number + EDITS + WARM)
            tell([own[WARM:] for own in times], mine, theirs)
    finally:
        served.stop()


def tell(times: list[list[float]], mine: list[Tab], theirs: list[Tab]) -> None:
    for (lines, items), own, *both in zip(SIZES, times, mine, theirs, strict=True):
        print(
            f"{lines:,} lines, {items:,} items: median {statistics.median(own):.0f} ms, "
            f"95 of 100 under {share(own, 0.95):.0f} ms, longest {max(own):.0f} ms"
        )
        for kind, one in zip(("own tab", "colleague's tab"), both, strict=True):
            usual, most = statistics.median(one.each) / 1000, max(one.each) / 1000
            print(f"    {kind}: {usual:.1f} kB an edit (median), {most:.1f} at most")
    medians = [statistics.median(own) for own in times]
    ratio = share(times[1], 0.95) / share(times[0], 0.95)
    print(
        f"ratio, large to small: {medians[1] / medians[0]:.2f} of the medians, {ratio:.2f} of the 95 of 100"
    )


if __name__ == "__main__":
    main()
