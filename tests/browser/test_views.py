"""Every main view on the demonstration: can it be used by all, does it hold at other widths, is each reached by its address."""

from __future__ import annotations

import json
import re
import time
from pathlib import Path

from playwright.sync_api import expect

from sandscale.demo import project as demo
from sandscale.demo.drawings import foundation_drawing
from sandscale.services.bill import actions as bill
from sandscale.services.keeping import jobs
from sandscale.services.keeping.acting import Actor
from sandscale.services.measure import reading as measure_reading
from sandscale.services.people import signing_in
from sandscale.services.projects import actions as projects
from sandscale.services.sheets import bringing_in
from sandscale.store.models import (
    Bill,
    BuildUp,
    Drawing,
    Element,
    Enquiry,
    GroundSurface,
    Invitation,
    Item,
    OwnForm,
    Person,
    Project,
    PurchaseOrder,
    Resource,
    Revision,
    Sheet,
    Survey,
    TrenchKind,
    TypicalSection,
)
from tests import scene
from tests.browser.desk import DemoCase, as_text, cell, choose, make_up, saved, type_row, write_text
from tests.core.test_makeups import SOURCE

AXE = (Path(__file__).parents[2] / "frontend/node_modules/axe-core/axe.min.js").read_text("utf-8")

# What is wrong with the boxes of a page: it is wider than the window; things of a row lie over one another or run out of it; a number, a
# heading or a word of the tally is cut; a pane lies over another.
BOXES = """() => {
  const wrong = [], box = (e) => e.getBoundingClientRect(), seen = (e) => box(e).width > 0 && box(e).height > 0
  const name = (e) => `${e.tagName.toLowerCase()}.${e.className} “${(e.innerText || '').slice(0, 40)}”`
  const page = document.documentElement
  if (page.scrollWidth > page.clientWidth) wrong.push('the page is wider than the window')
  for (const row of document.querySelectorAll('header, header nav, header .right, footer, .desk-head, .quantity')) {
    const inner = [...row.children].filter(seen)
    for (const [n, each] of inner.entries()) {
      if (box(each).right > box(row).right + 1) wrong.push(`${name(each)} runs out of ${row.className || row.tagName}`)
      for (const other of inner.slice(n + 1)) {
        const across = Math.min(box(each).right, box(other).right) - Math.max(box(each).left, box(other).left)
        const down = Math.min(box(each).bottom, box(other).bottom) - Math.max(box(each).top, box(other).top)
        if (across > 1 && down > 1) wrong.push(`${name(each)} lies over ${name(other)}`)
      }
    }
  }
  for (const cell of document.querySelectorAll('td.number, th.number, td.num, footer .num, .quantity .num, .scroll a .num'))
    if (seen(cell) && cell.scrollWidth > cell.clientWidth + 1) wrong.push(`${name(cell)} is cut`)
  const panes = ['.stage > aside', '.stage > .desk', '.working'].map((s) => document.querySelector(s)).filter((e) => e && seen(e))
  for (const [n, pane] of panes.entries())
    if (n && box(panes[n - 1]).right > box(pane).left + 1) wrong.push(`${pane.className} lies over the pane before it`)
  return wrong
}"""

# How much of what one sees has moved since the page began, as the browser reckons it.
SHIFTS = """() => { window.shifted = 0; new PerformanceObserver((list) => {
  for (const each of list.getEntries()) if (!each.hadRecentInput) window.shifted += each.value
}).observe({ type: 'layout-shift', buffered: true }) }"""
MOST_SHIFTED = 0.03


class Views(DemoCase):
    def addresses(self) -> dict[str, str]:
        """The main views, and a text each must show; its foundation plan has come in revision B."""
        drawing = self.own(Drawing, number="FW-S-101")
        job = bringing_in.ask_to_revise(self.actor, drawing, "B.pdf", foundation_drawing("B"), "")
        while jobs.view(self.actor, job.id).state in jobs.UNFINISHED:
            time.sleep(0.2)
        revised = self.own(Revision, letter="B")
        received = self.own(Bill, kind="received")
        return {
            f"/sheets/{self.own(Sheet, title='Foundation plan')}": "FW-S-101 A, p. 1",
            f"/sheets/{self.own(Sheet, revision=revised)}": "FW-S-101 B, p. 1",
            f"/sheets/{self.own(Sheet, revision=revised)}/changes": "Sump 3600 × 2400 went",
            f"/sheets/revision/{revised}": "Nothing moved yet",
            f"/sheets/{self.own(Sheet, title='Services as laid out')}": "Layers 6 of 7",
            f"/measure/{self.own(Element, mark='PF2')}": "Squared m³",
            "/bars": "Cut m",
            "/bars/cutting": "Pieces kept from before",
            "/bars/summary": "By member",
            "/bars/rules": "Least hook",
            f"/ground/earthwork/{self.own(Element, mark='E1')}": "off exact",
            f"/ground/surface/{self.own(GroundSurface, name='Ground')}": "Profile along a line",
            f"/ground/trench/{self.own(Element, mark='T1')}": "Lay at one fall",
            f"/ground/trench-kind/{self.own(TrenchKind, name='Rising main DN 200')}": "Laid in it, from below",
            f"/ground/route/{self.own(Element, mark='R1')}": "What counts as what",
            f"/ground/typical/{self.own(TypicalSection, name='Road, widened')}": "Layers, from the top down",
            "/ground/whole": "Excavate to formation, ordinary material",
            f"/ground/survey/{Survey.get(Survey.project == self.project.id).id}": "levels used",
            f"/prices/{self.own(Resource, name='Cement')}": "priced by",
            f"/prices/enquiry/{self.own(Enquiry, title='Masonry and mixes')}": "The bill needs",
            f"/rates/{self.own(BuildUp, name='Blockwork 140 in walls')}": "Rate per m²",
            f"/rates/{self.own(BuildUp, kind='reference')}": "Whole, as told",
            f"/rates/allowance/{self.own(Element, mark='RC1')}": "by hand",
            "/bill": "Amount EUR",
            "/bill/report": "By kind of cost",
            "/bill/makes": "of the money",
            f"/bill?bill={received}": "Waterstop 250 wide in joints",
            f"/bill/matches?bill={received}": "nothing like it is priced yet",
            f"/bill/compared?before={received}&after={self.own(Bill, kind='own')}": "otherwise",
            "/order": "With waste",
            f"/order/{self.own(PurchaseOrder)}": "Together",
            "/bill/trials": "No trial yet",
            "/order?by=section": "Money EUR",
            "/issue/package/new": "and a cover list",
            "/issue/tables": "Give it an address",
            f"/issue/form/{self.own(OwnForm)}": "TenderSum",
            "/issue": "Every item has a quantity and a rate.",
            "/make-ups/pad-footing": "Copy and change",
        }

    def test_every_main_view_is_without_a_barrier_and_has_room_from_1100_to_2560_wide(self) -> None:
        section = Item.get(Item.project == self.project.id).section_id
        bill.add_item(
            self.actor, section,
            {"description": "Everything else", "unit": "nr", "kind": "lump_sum", "typed_amount": "99999999.99"},
        )  # fmt: skip
        # Contrast is of what stands, not of a colour on its way.
        self.page.emulate_media(reduced_motion="reduce")
        self.page.add_init_script(f"({SHIFTS})()")
        for path, shows in {**self.addresses(), "/../": "Projects"}.items():
            page = self.go(path)
            shown = page.get_by_text(shows).first
            expect(shown).to_be_visible()
            page.wait_for_timeout(100)
            # Nothing jumps from under a hand while the page fills.
            self.assertLess(page.evaluate("window.shifted"), MOST_SHIFTED, path)
            found = page.evaluate(AXE + "; axe.run({resultTypes: ['violations']})")
            serious = [
                f"{v['id']}: {v['nodes'][0]['html'][:160]}"
                for v in found["violations"]
                if v["impact"] in ("serious", "critical")
            ]
            self.assertEqual(serious, [], path)
            for width in (1100, 1280, 1920, 2560):
                page.set_viewport_size({"width": width, "height": 800})
                expect(shown).to_be_visible()
                # A sheet asks for its tiles: before the next width they are there.
                page.wait_for_timeout(700 if "sheet" in path or "measure" in path else 80)
                self.assertEqual(page.evaluate(BOXES), [], f"{path} at {width}")
                if path.startswith("/measure"):
                    page.locator("[data-test=sheet]").wait_for()
                    share = page.evaluate(
                        "() => document.querySelector('[data-test=sheet]').clientHeight / document.querySelector('main').clientHeight"
                    )
                    self.assertGreaterEqual(share, 0.55, f"the sheet at {width}")
            page.set_viewport_size({"width": 1280, "height": 800})

    def test_a_number_is_walked_by_its_address_alone(self) -> None:
        item = self.own(Item, description="Concrete C30/37 in pad footings")
        page = self.go(f"/bill?at=item-quantity:{item}")
        working = page.get_by_role("complementary", name="Working")
        expect(working).to_contain_text("5.292 + 6.48")
        expect(page.get_by_role("row").filter(has_text="2.1").first).to_have_class(re.compile("here"))

    def test_a_price_moves_the_bill_and_says_by_how_much(self) -> None:
        page = self.go(f"/prices/{self.own(Resource, name='Cement')}")
        before = page.locator("[data-test=bill-total]").inner_text()
        cell(page, "Quotes for Cement", "Quayside", 1).click()
        type_row(page, "6.35")
        saved(page)
        # The mean of 6.35 and 5.10 for 25 kg.
        expect(page.locator(".price")).to_contain_text("0.229")
        expect(page.locator("[data-test=bill-total]")).not_to_have_text(before)
        expect(page.locator("[data-test=moved]")).to_contain_text("+")
        choose(page, "Price basis", "lowest valid quote")
        expect(page.locator(".price")).to_contain_text("0.204")
        page.get_by_role("button", name="Delete", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text(
            "Cement is used in “Concrete C30/37, mixed on site”"
        )

    def test_an_input_refused_keeps_what_was_typed_and_a_good_one_moves_the_bars(self) -> None:
        page = self.go(f"/measure/{self.own(Element, mark='PF2')}")
        make_up(page)
        page.get_by_label(re.compile(r"^Blinding\smm")).fill("-50")
        page.keyboard.press("Tab")
        expect(page.get_by_role("alert")).to_contain_text(
            "Blinding must be not below zero; “-50” is below it."
        )
        expect(page.get_by_label(re.compile(r"^Blinding\smm"))).to_have_value("-50")
        bars = page.locator(".quantity").filter(has_text="Bars")
        expect(bars).to_contain_text("386 kg")
        page.get_by_label(re.compile(r"^Spacing\smm")).fill("200")
        page.keyboard.press("Tab")
        expect(bars).to_contain_text("297 kg")  # 10 bars each way instead of 13
        page.get_by_label(re.compile(r"^Spacing\smm")).fill("")
        page.keyboard.press("Tab")
        expect(bars).to_contain_text("386 kg")

    def test_a_make_up_is_copied_proved_refused_where_it_fails_and_kept(self) -> None:
        page = self.go("/make-ups/pad-footing")
        page.get_by_role("button", name="Copy and change").click()
        as_text(page)
        expect(page.get_by_label("Text of the make-up Pad footing")).to_contain_text(
            'key = "pad-footing-own"'
        )
        # It is proved at every pause; what is wrong is told with its line.
        write_text(page, SOURCE.replace("thick * 0.3 * m", "section"))
        expect(page.get_by_role("alert")).to_contain_text("use each other in a loop: section → section")
        write_text(page, SOURCE.replace('unit = "m³"', 'unit = "m²"'))
        expect(page.get_by_role("alert")).to_contain_text("gives a volume (m³), but its unit is m²")
        expect(page.locator(".wrong-line")).to_have_text('label = "Bed"')
        expect(page.get_by_role("button", name="Prove and keep")).to_be_disabled()
        write_text(page, SOURCE)
        trial = page.get_by_role("complementary", name="Tried on a sample")
        expect(trial).to_contain_text("0.11 m³")  # 2.40 × 0.15 × 0.3
        page.get_by_role("button", name="Prove and keep").click()
        expect(page).to_have_url(re.compile("/make-ups/kerb-bed$"))
        expect(page.get_by_role("link", name="Kerb bed")).to_be_visible()

    def test_a_typed_quantity_asks_where_it_comes_from(self) -> None:
        page = self.go("/bill")
        cell(page, "Bill of quantities", "type a description", 1).click()
        type_row(page, "Concrete test cubes")
        expect(cell(page, "Bill of quantities", "Concrete test cubes", 2)).to_have_text("nr")
        saved(page)
        cell(page, "Bill of quantities", "Concrete test cubes", 3).click()
        type_row(page, "12")
        page.get_by_label("Reason for the typed quantity").fill("specification, clause 4.2")
        page.keyboard.press("Enter")
        expect(cell(page, "Bill of quantities", "Concrete test cubes", 3)).to_have_text("✎ 12")
        expect(page.get_by_role("complementary", name="Working")).to_contain_text("specification, clause 4.2")

    def test_an_item_is_let_draw_on_a_quantity_and_no_longer(self) -> None:
        page = self.go("/bill")
        page.get_by_label("Title of a new section").fill("Extras")
        page.keyboard.press("Enter")
        cell(page, "Bill of quantities", "type a description", 1).click()
        type_row(page, "Concrete in both pads", "m³")
        expect(cell(page, "Bill of quantities", "Concrete in both pads", 2)).to_have_text("m³")
        saved(page)
        cell(page, "Bill of quantities", "Concrete in both pads", 3).click()
        for mark in ("PF1", "PF2"):
            choose(page, "Draw on an element", mark, f"{mark} Pad footing, Pump house, foundations")
            choose(page, "Which quantity", "Concrete", "Concrete,")
            saved(page)
            expect(page.get_by_label("Draw on an element")).to_be_focused()
        expect(cell(page, "Bill of quantities", "Concrete in both pads", 3)).to_have_text("11.77")
        page.get_by_role("button", name="No longer draw on Concrete in PF1").click()
        expect(cell(page, "Bill of quantities", "Concrete in both pads", 3)).to_have_text("6.48")

    def test_settings_round_the_bill_and_let_people_in(self) -> None:
        guest = scene.person("Ilo Marsh")
        page = self.go("/bill")
        concrete = cell(page, "Bill of quantities", "Concrete C30/37 in pad footings", 3)
        expect(concrete).to_have_text("11.77")
        page.get_by_title("Settings and people").click()
        page.get_by_label("Decimals of m³").fill("0")
        page.keyboard.press("Tab")
        expect(concrete).to_have_text("12")
        for email in ("nobody@test.example", scene.email_of(guest)):
            page.get_by_label("E-mail address of a person").fill(email)
            page.keyboard.press("Enter")
            expect(page.get_by_role("dialog")).to_contain_text(f"{email} is invited for two weeks.")
        other = self.projects_of(scene.email_of(guest))
        expect(other.locator("[data-test=invitation]")).to_contain_text(
            f"invites you into {demo.NAME} as its editor"
        )
        other.get_by_role("button", name="Take it up").click()
        expect(other.get_by_role("row").filter(has_text=demo.NAME)).to_contain_text("editor")
        expect(other.locator("[data-test=invitation]")).to_have_count(0)
        expect(other.get_by_role("link", name=demo.NAME)).to_be_focused()
        # The link that a letter would hold.
        sent = Invitation.update(token_hash=signing_in.hash_of("from-a-letter"))
        sent.where(Invitation.email == "nobody@test.example").execute()
        fresh = self.browser.new_context().new_page()
        self.addCleanup(fresh.context.close)
        fresh.goto(f"{self.address}/invited/from-a-letter")
        fresh.get_by_label("Your name").fill("Nella Brook")
        for password, said in (("password123", "That password is easily guessed."), (scene.PASSWORD, "")):
            fresh.get_by_label("Password").fill(password)
            fresh.keyboard.press("Enter")
            if said:
                expect(fresh.get_by_role("alert")).to_contain_text(said)
        expect(fresh.get_by_role("row").filter(has_text=demo.NAME)).to_contain_text("editor")

    def test_an_account_is_looked_after_and_a_project_deleted_by_name(self) -> None:
        person = scene.person("Ilo Marsh")
        made = projects.new_project(person, "Only mine", "", "EUR", scene.PRICE_DATE)
        page, other = (self.projects_of(scene.email_of(person)) for _ in range(2))
        page.get_by_role("link", name="Only mine").click()
        page.get_by_title("Settings and people").click()
        delete = page.get_by_role("button", name="Delete it for good")
        page.get_by_label("Name of the project to delete").fill("Only min")
        expect(delete).to_be_disabled()
        page.get_by_label("Name of the project to delete").fill("Only mine")
        delete.click()
        expect(page.get_by_role("heading", name="No projects yet")).to_be_visible()
        self.assertIsNone(Project.get_or_none(Project.id == made.id))
        page.get_by_role("button", name="Ilo Marsh").click()
        page.get_by_label("The password you have").fill(scene.PASSWORD)
        for password, role, said in (
            ("qwertyuiop", "alert", "easily guessed"), ("terrace level weir", "status", "other browsers are signed out"),
        ):  # fmt: skip
            page.get_by_label("The new one").fill(password)
            page.keyboard.press("Enter")
            expect(page.get_by_role("dialog").get_by_role(role)).to_contain_text(said)
        other.reload()
        expect(other.get_by_role("button", name="Sign in")).to_be_visible()
        page.get_by_label("Your password, to give the account up").fill("terrace level weir")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Sign in")).to_be_visible()
        self.assertIsNone(Person.get_or_none(Person.id == person))

    def test_a_project_file_goes_out_and_comes_in_as_an_equal_project(self) -> None:
        page = self.go("/issue")
        with page.expect_download() as download:
            page.get_by_role("link", name="Whole project as one file").click()
        content = Path(download.value.path()).read_bytes()
        self.assertEqual(content, scene.file_of(scene.demonstration()))
        page.goto(f"{self.address}/projects")
        chosen = page.locator("[data-test=project-file]")
        chosen.set_input_files(
            {"name": "x.json", "mimeType": "application/json", "buffer": b'{"format": "other"}'}
        )
        expect(page.get_by_role("alert")).to_contain_text("The file is not a project of Sand Scale")
        chosen.set_input_files({"name": "project.json", "mimeType": "application/json", "buffer": content})
        expect(page).to_have_url(re.compile(r"/projects/\d+/sheets"))
        made = int(re.search(r"/projects/(\d+)", page.url)[1])  # type: ignore[index]
        self.assertNotEqual(made, self.project.id)
        again = json.loads(scene.file_of(Actor(self.actor.person_id, made, "owner")))
        self.assertEqual(again, json.loads(content))

    def test_a_figure_is_picked_on_the_sheet_and_deleted_and_brought_back(self) -> None:
        element = self.own(Element, mark="GS1")
        page = self.go(f"/measure/{element}")
        board = page.locator("[data-test=sheet]")
        expect(board).to_be_visible()
        expect(page.get_by_role("complementary", name="Working")).to_contain_text("Concrete in GS1")
        page.wait_for_load_state("networkidle")
        page.wait_for_timeout(700)
        box = board.bounding_box()
        assert box is not None
        # The middle of the view is the middle of what is measured: inside the slab, beside the sump's void.
        page.mouse.click(box["x"] + box["width"] / 2 - 90, box["y"] + box["height"] / 2 + 40)
        expect(page.get_by_role("complementary", name="Working")).to_contain_text("422.56 − 8.64")
        board.focus()
        page.keyboard.press("Delete")
        expect(page.locator(".quantity b").first).to_have_text("0.00")
        page.keyboard.press("Control+z")
        expect(page.locator(".quantity b").first).to_have_text("82.78")
        self.assertEqual(len(measure_reading.element_view(self.actor, element).lines), 1)

    def test_find_goes_anywhere_and_the_keys_are_told(self) -> None:
        page = self.go("/bill")
        expect(page.get_by_text("Sum of the items").first).to_be_visible()
        page.keyboard.press("Control+k")
        page.get_by_placeholder("An element, sheet").fill("block mat")
        expect(page.get_by_role("dialog").get_by_text("Block 390 × 190 × 140")).to_be_visible()
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile("/prices/"))
        expect(page.get_by_label("Name of the resource")).to_have_value("Block 390 × 190 × 140")
        page.keyboard.press("?")
        expect(page.get_by_role("dialog")).to_contain_text("fill the block down from its first line")
