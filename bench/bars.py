"""Bars: how long 2,000 of them take to be cut and how near the bound; a spacing changed in a large project,
to the lines of the schedule it moves; the schedule of many thousand lines opened, scrolled and typed in.

    SANDSCALE_DATABASE=… python -m bench.bars"""

from __future__ import annotations

import random
import statistics
import time

from playwright.sync_api import Page, sync_playwright

from sandscale.core.bars.cutting import cut_from_stock
from sandscale.services.answers import moved
from sandscale.services.bars import actions as bars
from sandscale.services.bars import reading
from sandscale.services.keeping.acting import Actor
from sandscale.services.measure.actions import elements
from sandscale.store.database import connect, connected, migrate
from sandscale.store.models import BarLine, Element, Location, Person
from tests.served import Served

from .edit import share
from .large_project import make, person

SIZES = ((5_000, 500), (50_000, 5_000))
SHOWN = 11_400  # dimension lines, whose bars make a schedule of 10,000 lines
CUT, SEED, CHANGES, EDITS = 2_000, 7, 30, 30
# Frames drawn while the schedule is scrolled through, each with how long it took.
FRAMES = """() => new Promise((done) => {
  const grid = document.querySelector('[role=grid]'), took = []
  let last = performance.now(), at = 0
  const step = (now) => {
    took.push(now - last); last = now
    grid.scrollTop = (at += 90)
    took.length < 400 ? requestAnimationFrame(step) : done(took.slice(5))
  }
  requestAnimationFrame(step)
})"""

# When the typed bar's cut length is another and all is saved: the time since Enter, by the page's own clock.
REDRAWN = """(was) => {
  const begun = {at: 0}
  addEventListener('keydown', (e) => { if (e.key === 'Enter') begun.at = performance.now() }, {capture: true})
  window.shown_ = new Promise((done) => {
    const look = () => {
      const row = [...document.querySelectorAll('[role=row]')].find((r) => r.textContent.includes('Typed'))
      const now = row?.querySelectorAll('[role=gridcell]')[6]?.textContent.trim()
      const saved = document.querySelector('[role=status]').textContent.trim() === 'saved'
      if (begun.at && now && now !== was && saved)
        requestAnimationFrame(() => done(performance.now() - begun.at))
      else requestAnimationFrame(look)
    }
    requestAnimationFrame(look)
  })
}"""


def cutting() -> None:
    """A yard's week of bars: 2,000 of them in some 170 lengths from 12 m."""
    chance = random.Random(SEED)
    wanted: dict[float, int] = {}
    for _ in range(CUT):
        length = round(chance.triangular(0.6, 6.5, 1.8) / 0.025) * 0.025
        wanted[round(length, 3)] = wanted.get(round(length, 3), 0) + 1
    begun = time.perf_counter()
    plan = cut_from_stock(wanted, [12.0])
    took = time.perf_counter() - begun
    print(
        f"{CUT:,} bars of {len(wanted)} lengths cut from 12 m in {took:.1f} s: "
        f"{sum(plan.order.values())} bars, {plan.gap:.2f} % above the bound, {plan.waste:.2f} % off-cuts"
    )


def spacing(actor: Actor, element: int, number: int) -> float:
    """One spacing changed, to the lines of the schedule as a page reads them; in ms."""
    version = Element.get_by_id(element).version
    begun = time.perf_counter()
    saved = elements.change_element(actor, element, version, {"inputs": {"link_spacing": f"{150 + number}"}})
    told = moved.answered(actor, saved).moved
    reading.bars_moved(actor, told.bars)
    return (time.perf_counter() - begun) * 1000


def typed_in(page: Page, number: int) -> float:
    """A leg of a typed bar typed over: the milliseconds until it is saved and its cut length stands."""
    row = page.get_by_role("grid").get_by_role("row").filter(has_text="Typed")
    row.get_by_role("gridcell").nth(9).click()
    page.wait_for_timeout(700)
    was = row.get_by_role("gridcell").nth(6).inner_text()
    page.evaluate(REDRAWN, was.strip())
    page.keyboard.type(f"{2025 + 25 * number}")
    page.keyboard.press("Enter")
    return float(page.evaluate("() => window.shown_"))


def on_screen(address: str, actor: Actor, rows: int) -> None:
    """The schedule opened, scrolled and typed in."""
    email = Person.get_by_id(person()).email
    with sync_playwright() as playwright:
        arguments = ["--no-sandbox", "--disable-gpu"]
        chromium = playwright.chromium.launch(
            executable_path="/usr/bin/chromium-headless-shell", args=arguments
        )
        page = chromium.new_context(viewport={"width": 1280, "height": 800}).new_page()
        page.goto(address)
        page.get_by_label("E-mail address").fill(email)
        page.get_by_label("Password").fill("bench-password")
        page.keyboard.press("Enter")
        page.get_by_role("heading", name="Projects", exact=True).wait_for()
        opened = []
        for _ in range(5):
            page.goto("about:blank")
            page.goto(f"{address}/projects/{actor.project_id}/bars", wait_until="commit")
            page.get_by_role("grid").get_by_role("img").first.wait_for(timeout=60_000)
            opened.append(float(page.evaluate("performance.now()")))
        page.wait_for_timeout(1500)
        frames = page.evaluate(FRAMES)
        print(
            f"{rows:,} lines of schedule: open in {statistics.median(opened):.0f} ms (median of 5); "
            f"scrolled, a frame takes {statistics.median(frames):.1f} ms, 95 of 100 under "
            f"{share(frames, 0.95):.1f}, "
            f"longest {max(frames):.0f}"
        )
        page.get_by_role("grid").focus()
        page.get_by_role("searchbox", name="Find a member").fill("Typed")
        page.get_by_role("link", name="Typed").click()
        page.get_by_role("grid").get_by_role("row").filter(has_text="Typed").first.wait_for()
        times = [typed_in(page, number) for number in range(EDITS + 3)][3:]
        print(
            f"    a leg typed: median {statistics.median(times):.0f} ms to saved and redrawn, 95 of 100 "
            f"under {share(times, 0.95):.0f}, longest {max(times):.0f}"
        )


def main() -> None:
    cutting()
    connect()
    migrate()
    with connected():
        actors = [make(lines, items)[0] for lines, items in SIZES]
        beams = [
            Element.select(Element.id)
            .where((Element.project == actor.project_id) & (Element.source == "beam"))
            .limit(1)
            .scalar()
            for actor in actors
        ]
        times: list[list[float]] = [[], []]
        for number in range(CHANGES + 3):
            for own, actor, beam in zip(times, actors, beams, strict=True):
                own.append(spacing(actor, beam, number))
        rows = [BarLine.select().where(BarLine.project == actor.project_id).count() for actor in actors]
        for (lines, _), own, held in zip(SIZES, times, rows, strict=True):
            own[:3] = []
            print(
                f"a spacing changed, {lines:,} lines, {held:,} in the schedule: median "
                f"{statistics.median(own):.0f} ms to its lines of the schedule, 95 of 100 under "
                f"{share(own, 0.95):.0f}"
            )
        print(f"    ratio, large to small: {statistics.median(times[1]) / statistics.median(times[0]):.2f}")
        place = Location.get(Location.project == actors[1].project_id).id
        typed = {"member": "Typed", "size": "16", "legs": {"A": "2000"}}
        bars.add_bars(actors[1], [typed], place)
        shown, _ = make(SHOWN, 1_000)
        bars.add_bars(shown, [typed], Location.get(Location.project == shown.project_id).id)
        held = BarLine.select().where(BarLine.project == shown.project_id).count()
    served = Served().wait()
    try:
        for actor, number in ((shown, held), (actors[1], rows[1] + 1)):
            on_screen(served.address, actor, number)
    finally:
        served.stop()


if __name__ == "__main__":
    main()
