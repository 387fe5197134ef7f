"""From the keystroke that leaves a price to “saved” and the new total on screen, in a browser.

    SANDSCALE_DATABASE=… python -m bench.prices_desk

The projects of ``bench.prices``: one quote under 2,000 rates nested three deep and 5,000 items, and one
under one rate and one item, by turns."""

from __future__ import annotations

import statistics

from playwright.sync_api import Page, sync_playwright

from sandscale.services.keeping.acting import Actor
from sandscale.services.people import accounts as people
from sandscale.store.database import connect, connected, migrate
from sandscale.store.models import Membership, Quote
from tests.served import Served

from .edit import SETTLED, WATCH, share
from .prices import DEPTHS, ITEMS, make

EMAIL = "bench-prices@sandhall.example"
EDITS, WARM = 8, 3


def opened(page: Page, address: str, actor: Actor, quote: Quote) -> None:
    page.goto(f"{address}/projects/{actor.project_id}/prices/{quote.resource_id}")
    page.get_by_role("grid").get_by_text(quote.supplier).first.wait_for(timeout=60_000)


def edit(page: Page, number: int) -> float:
    """A price typed over, left by Enter; gives the milliseconds until all of it stands on screen."""

    def told(r):
        try:
            t = r.request.timing
            print(
                r.request.method,
                r.url.split("/api/")[-1][:70],
                round(t["requestStart"]),
                round(t["responseEnd"]),
                r.request.sizes()["responseBodySize"],
                round(t["startTime"] * 1000) % 1000000000,
            )
        except Exception as e:
            print(e)

    row = page.get_by_role("grid").get_by_role("row").filter(has_text="Quayside")
    row.get_by_role("gridcell").nth(1).click()
    page.wait_for_timeout(SETTLED)
    page.evaluate(WATCH)
    page.keyboard.type(f"{5 + number % 9 / 100 + 0.31:.2f}")
    if number == 5:
        page.on("requestfinished", lambda q: told(q.response()))
    page.keyboard.press("Enter")
    x = float(page.evaluate("() => window.shown_"))
    if number == 5:
        print("SHOWN", x)
        page.wait_for_timeout(1500)
    return x
    return float(page.evaluate("() => window.shown_"))


def main() -> None:
    connect()
    migrate()
    with connected():
        made = [make(DEPTHS, ITEMS, "Bench, many rates"), make((1, 1, 1), 1, "Bench, one rate")]
        someone = people.add_person("Bench", EMAIL, "bench-password")
        for actor, _ in made:
            Membership.create(project=actor.project_id, person=someone.id, role="editor")
        quotes = [Quote.get_by_id(quote) for _, quote in made]
    from sandscale.store.database import database as db

    with connected():
        [db.execute_sql(f"ALTER TABLE {t} SET (fillfactor=45)") for t in ("item", "build_up")]
        db.execute_sql("VACUUM FULL item")
        db.execute_sql("VACUUM FULL build_up")
    served = Served().wait()
    try:
        with sync_playwright() as playwright:
            chromium = playwright.chromium.launch(
                executable_path="/usr/bin/chromium-headless-shell", args=["--no-sandbox", "--disable-gpu"]
            )
            pages = [chromium.new_context(viewport={"width": 1280, "height": 800}).new_page() for _ in made]
            for page, (actor, _), quote in zip(pages, made, quotes, strict=True):
                page.goto(served.address)
                page.get_by_label("E-mail address").fill(EMAIL)
                page.get_by_label("Password").fill("bench-password")
                page.keyboard.press("Enter")
                page.get_by_role("heading", name="Projects", exact=True).wait_for()
                opened(page, served.address, actor, quote)
            times: list[list[float]] = [[], []]
            for number in range(EDITS + WARM):
                for page, own in zip(pages, times, strict=True):
                    own.append(edit(page, number))
            for name, own in zip(("many rates and items", "one"), times, strict=True):
                own = own[WARM:]
                middle, most = statistics.median(own), share(own, 0.95)
                print(f"a price typed over under {name}: median {middle:.0f} ms, 95 of 100 under {most:.0f},")
                print(f"  longest {max(own):.0f}")
    finally:
        served.stop()


if __name__ == "__main__":
    main()
