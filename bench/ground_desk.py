"""The ground at the desk: levels from a file to their surface on screen; a level of a platform changed over
5,000 and 100,000 levels until its cut and fill stand on screen, and what a colleague's edit takes meanwhile;
frames while the plan is moved.

    SANDSCALE_DATABASE=… python -m bench.ground_desk"""

from __future__ import annotations

import math
import re
import statistics
import tempfile
import threading
import time
from datetime import date
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from sandscale.services.ground.actions import earthworks
from sandscale.services.ground.reading.overview import ground_view
from sandscale.services.keeping.acting import Actor
from sandscale.services.measure.actions import dimension_lines, elements
from sandscale.services.people import accounts
from sandscale.services.projects import actions as projects
from sandscale.store.database import connect, connected, migrate
from sandscale.store.models import Element, Membership, Person
from tests.served import Served

from .browser import FRAMES
from .edit import share
from .large_project import person
from .load import PASSWORD, Somebody

SIZES = (5_000, 100_000)
SITE = 400.0  # m across
PLATFORM = [[150, 150], [250, 150], [250, 230], [150, 230]]
CHANGES = 8
# The time from Enter until the cut shown is another and nothing says that it is being worked out.
SHOWN = """(was) => {
  const begun = {at: 0}
  addEventListener('keydown', (e) => { if (e.key === 'Enter') begun.at = performance.now() }, {capture: true})
  window.shown_ = new Promise((done) => {
    const look = () => {
      const row = document.querySelector('.methods tbody tr')
      const now = row?.querySelectorAll('td')[1]?.textContent.trim()
      const late = document.body.textContent.includes('Being worked out')
      if (begun.at && now && now !== was && !late)
        requestAnimationFrame(() => done(performance.now() - begun.at))
      else requestAnimationFrame(look)
    }
    requestAnimationFrame(look)
  })
}"""


def levels(number: int) -> bytes:
    """A hilly site as CSV."""
    side = math.isqrt(number)
    step = SITE / (side - 1)
    rows = ["E;N;Z"]
    for n in range(side):
        for m in range(side):
            x, y = n * step + math.sin(m) * step * 0.2, m * step + math.cos(n) * step * 0.2
            rows.append(f"{x:.3f};{y:.3f};{60 + 4 * math.sin(x / 55) * math.cos(y / 70) + y / 90:.3f}")
    return "\n".join(rows).encode()


def project(number: int) -> Actor:
    """A project of its own, with a location and an element to type into."""
    made = projects.new_project(person(), f"Bench ground {number}", "", "EUR", date(2026, 11, 2))
    actor = Actor(person(), made.id, "owner")
    place = elements.add_location(actor, "Site").id or 0
    wall = elements.add_element(actor, place, "V1", "plain-volume").id or 0
    dimension_lines.add_line(actor, wall, {"length": "1", "width": "1", "height": "1"})
    return actor


def taken_in(page: Page, address: str, actor: Actor, number: int) -> None:
    """Levels from a file to their surface on screen, through the dialog."""
    path = Path(tempfile.mkdtemp()) / "site.csv"
    path.write_bytes(levels(number))
    page.goto(f"{address}/projects/{actor.project_id}/ground")
    page.get_by_role("button", name="Bring levels in").click()
    begun = time.perf_counter()
    page.locator("input[data-test=levels-file]").set_input_files(path)
    page.get_by_role("button", name="Take in").wait_for()
    seen = time.perf_counter()
    page.get_by_role("button", name="Take in").click()
    page.wait_for_url("**/ground/survey/*")
    taken = time.perf_counter()
    page.get_by_role("link", name="site").last.click()
    page.locator(".made dd").first.filter(has_text=re.compile("[1-9]")).wait_for(timeout=60_000)
    page.wait_for_load_state("networkidle")
    shown = time.perf_counter()
    print(
        f"{number:,} levels from file to surface on screen: {shown - begun:.1f} s "
        f"(seen {seen - begun:.1f}, kept {taken - seen:.1f}, surface {shown - taken:.1f})"
    )


def moved(page: Page, number: int) -> None:
    """Frames while the plan is dragged about and zoomed."""
    box = page.locator("[data-test=plan]").bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.evaluate(FRAMES)
    for turn in range(6):
        page.mouse.move(x, y)
        page.mouse.down()
        for step in range(20):
            page.mouse.move(x + (step - 10) * 12 * (-1) ** turn, y + step * 5)
            page.wait_for_timeout(16)
        page.mouse.up()
        page.mouse.wheel(0, -240 if turn % 2 else 240)
        page.wait_for_timeout(400)
    frames = page.evaluate("() => { window.going_ = false; return window.frames_ }")[5:]
    print(
        f"{number:,} levels moved and zoomed: frames median {statistics.median(frames):.0f} ms, "
        f"95 % under {share(frames, 0.95):.0f} ms, longest {max(frames):.0f} ms"
    )


def colleague_of(actor: Actor, address: str) -> Somebody:
    """Another of the project, at a tab of their own, at its wall."""
    email = f"other-{actor.project_id}@sandhall.example"
    other = accounts.add_person("Other", email, PASSWORD)
    Membership.create(project=actor.project_id, person=other.id, role="editor")
    walls = [
        e.id for e in Element.select().where((Element.project == actor.project_id) & (Element.mark == "V1"))
    ]
    return Somebody(int(address.rsplit(":", 1)[1]), email, actor.project_id, walls, CHANGES)


def changed(page: Page, address: str, actor: Actor, number: int) -> None:
    """A level typed until its cut and fill stand, and a colleague's edits meanwhile."""
    place = elements.add_location(actor, "Works").id or 0
    ground = ground_view(actor).surfaces[0].id
    work = earthworks.add_earthwork(actor, "E1", "Platform", place, ground).id or 0
    shape = {"level": "61", "outline": PLATFORM, "cut_batter": "1:1.5", "fill_batter": "1:2"}
    earthworks.add_formation(actor, work, shape)
    page.goto(f"{address}/projects/{actor.project_id}/ground/earthwork/{work}")
    page.locator(".methods tbody tr").first.wait_for(timeout=60_000)
    page.wait_for_timeout(1500)
    times, stopped = list[float](), threading.Event()
    other = colleague_of(actor, address)

    def colleague() -> None:
        while not stopped.is_set():
            other.type()
            time.sleep(0.05)

    beside = threading.Thread(target=colleague)
    for n in range(CHANGES):
        if n == CHANGES // 2:
            beside.start()
        was = page.locator(".methods tbody tr").first.locator("td").nth(1).inner_text()
        page.evaluate(SHOWN, was)
        field = page.get_by_label("Level of the formation")
        field.fill(f"{61 + (n + 1) / 10:.2f}")
        page.keyboard.press("Enter")
        times.append(page.evaluate("() => window.shown_") / 1000)
        page.wait_for_timeout(300)
    stopped.set()
    beside.join()
    edits = [seconds * 1000 for what, seconds in other.times if what == "type"]
    alone, with_another = times[: CHANGES // 2], times[CHANGES // 2 :]
    print(
        f"{number:,} levels, a platform's level changed: cut and fill on screen in "
        f"{statistics.median(alone):.2f} s, longest {max(alone):.2f} s; while a colleague types without a "
        f"pause {statistics.median(with_another):.2f} s, longest {max(with_another):.2f} s; their "
        f"{len(edits)} edits: median {statistics.median(edits):.0f} ms, 95 % {share(edits, 0.95):.0f} ms"
    )


def main() -> None:
    """Tell all of it for both sizes."""
    connect()
    migrate()
    served = Served().wait()
    try:
        with connected(), sync_playwright() as play:
            browser = play.chromium.launch(
                executable_path="/usr/bin/chromium-headless-shell", args=["--no-sandbox"]
            )
            page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
            page.goto(served.address)
            page.get_by_label("E-mail address").fill(str(Person.get_by_id(person()).email))
            page.get_by_label("Password").fill("bench-password")
            page.keyboard.press("Enter")
            page.get_by_role("heading", name="Projects", exact=True).wait_for()
            for number in SIZES:
                actor = project(number)
                taken_in(page, served.address, actor, number)
                moved(page, number)
                changed(page, served.address, actor, number)
            browser.close()
    finally:
        served.stop()


if __name__ == "__main__":
    main()
