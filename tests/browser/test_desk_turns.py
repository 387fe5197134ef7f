"""The desk's smaller turns, in a copy of the demonstration: what is renamed, moved elsewhere, put aside and brought back, and who is let out."""

from __future__ import annotations

import re
from decimal import Decimal

from playwright.sync_api import Locator, expect

from sandscale.services.bill.reading import own_bill
from sandscale.services.measure import reading as measure_reading
from sandscale.services.projects import reading as projects_reading
from sandscale.store.models import (
    Adjustment,
    DimensionLine,
    Element,
    Figure,
    Item,
    Project,
    Quote,
    Resource,
    Section,
    Sheet,
)
from tests import scene
from tests.browser.desk import DemoCase, SheetOnScreen, cell, choose, lines_read, make_up, saved

BILL = "Bill of quantities"


class MeasureTurns(DemoCase):
    def element(self, mark: str) -> Element:
        return Element.get(Element.project == self.project.id, Element.mark == mark)

    def open(self, mark: str) -> Element:
        element = self.element(mark)
        self.go(f"/measure/{element.id}")
        expect(self.page.get_by_role("grid", name=f"Dimension lines of {mark}")).to_be_visible()
        return element

    def turn(self, words: str) -> None:
        self.page.get_by_role("button", name="Element ▾").click()
        self.page.get_by_role("button", name=re.compile(words)).click()

    def notes(self, element: Element) -> list[str]:
        return [
            line.note
            for line in DimensionLine.select()
            .where(DimensionLine.element == element.id)
            .order_by(DimensionLine.position)
        ]

    def net(self, element: Element, output: str) -> float:
        return next(
            q.net
            for q in measure_reading.element_view(self.actor, element.id).quantities
            if q.output == output
        )

    def test_lines_are_copied_and_moved_to_another_element(self) -> None:
        walls, page = self.open("W1"), self.page
        total, face = scene.total(self.actor), self.net(walls, "area")
        self.page.get_by_role("button", name="New element in Pump house, ground floor").click()
        page.get_by_label("Mark, as on the drawing").fill("W2")
        choose(page, "Make-up", "Blockwork")
        page.get_by_role("button", name="Make it").click()
        expect(page.get_by_role("grid", name="Dimension lines of W2")).to_be_visible()
        other = self.element("W2")
        self.open("W1")
        cell(page, "Dimension lines of W1", "Between columns", 1).click()
        page.keyboard.press("Shift+ArrowDown")
        self.turn("2 lines to another element")
        dialog = page.get_by_role("dialog", name="2 lines of W1")
        choose(dialog, "To", other.mark, other.mark)
        dialog.get_by_label("copy them").check()
        dialog.get_by_role("button", name="Copy 2 lines").click()
        expect(dialog).not_to_be_visible()
        saved(page)
        self.assertEqual(self.notes(other), ["Between columns, all round", "Doors D1"])
        self.assertAlmostEqual(self.net(other, "area"), 2 * 40.6 * 3.6 - 2 * 2.1)
        self.assertEqual(
            (len(self.notes(walls)), scene.total(self.actor)), (3, total)
        )  # W2 is not in the bill
        # One line moved: it is there and no longer here, and the bill follows.
        cell(page, "Dimension lines of W1", "Windows F1", 1).click()
        self.turn("the line to another element")
        dialog = page.get_by_role("dialog", name="1 line of W1")
        choose(dialog, "To", other.mark, other.mark)
        dialog.get_by_role("button", name="Move 1 line").click()
        expect(dialog).not_to_be_visible()
        saved(page)
        self.assertEqual((self.notes(other)[-1], len(self.notes(walls))), ("Windows F1", 2))
        self.assertAlmostEqual(self.net(walls, "area"), face + 6 * 1.2 * 1.2)
        self.assertGreater(scene.total(self.actor), total)
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("Control+z")
        saved(page)
        self.assertEqual((len(self.notes(walls)), scene.total(self.actor)), (3, total))

    def test_an_element_is_changed_copied_deleted_and_brought_back(self) -> None:
        footing, page = self.open("PF1"), self.page
        total, concrete = scene.total(self.actor), self.net(footing, "concrete")
        opened = make_up(page)
        for label, words in (("Mark", "PF1a"), ("Description", "Corner footing")):
            opened.get_by_label(label, exact=True).fill(words)
            page.keyboard.press("Enter")
            saved(page)
        changed = Element.get_by_id(footing.id)
        self.assertEqual((changed.mark, changed.description), ("PF1a", "Corner footing"))
        self.turn("Copy PF1a to a location")
        dialog = page.get_by_role("dialog", name="An element like PF1a")
        choose(dialog, "Location", "Pump house, ground floor")
        dialog.get_by_label("copy its figures").check()
        dialog.get_by_role("button", name="Copy PF1a").click()
        expect(
            page.get_by_role("complementary", name="Elements").get_by_role("link", name=re.compile("PF1a"))
        ).to_have_count(2)
        twin = (
            Element.select()
            .where(Element.project == self.project.id, Element.mark == "PF1a")
            .order_by(Element.id.desc())
            .first()
        )
        self.assertNotEqual(twin.id, footing.id)
        self.assertAlmostEqual(self.net(twin, "concrete"), concrete)
        self.assertEqual(Figure.select().where(Figure.element == twin.id).count(), 1)
        # Into the bill, and from its quantity there and back.
        expect(page).to_have_url(re.compile(f"/measure/{twin.id}"))
        page.get_by_role("button", name="Into the bill").click()
        saved(page)
        self.assertGreater(scene.total(self.actor), total)
        page.locator(".quantity").first.get_by_role("button").first.click()
        expect(page.get_by_role("complementary", name="Working")).to_contain_text("Concrete in PF1a")
        page.locator(".quantity").first.get_by_role("button", name=re.compile("^item ")).click()
        expect(page).to_have_url(re.compile("/bill"))
        page.locator(".draws").get_by_role("button", name="Concrete in PF1a", exact=True).last.click()
        expect(page).to_have_url(re.compile(f"/measure/{twin.id}"))
        self.turn("Delete PF1a")
        saved(page)
        self.assertEqual((Element.get_or_none(Element.id == twin.id), scene.total(self.actor)), (None, total))
        page.keyboard.press("Control+z")
        saved(page)
        self.assertGreater(scene.total(self.actor), total)
        # A make-up that doesn't give what the bill draws on is refused, and the old one stays chosen.
        self.open("L1")
        opened = make_up(page)
        choose(opened, "Make-up", "Beam")
        expect(page.get_by_role("alert")).to_contain_text(
            "The bill draws on “formwork” of L1, which “Beam” doesn't give. Take its links out of the bill first."
        )
        expect(opened.locator(".n-base-selection").first).to_contain_text("Lintel")

    def test_the_space_is_shared_by_dragging_and_by_keys(self) -> None:
        self.open("W1")
        bar = self.page.get_by_role("separator")
        before = bar.bounding_box() or {}
        self.page.mouse.move(before["x"] + 200, before["y"] + 2)
        self.page.mouse.down()
        self.page.mouse.move(before["x"] + 200, before["y"] - 80, steps=4)
        self.page.mouse.up()
        dragged = bar.bounding_box() or {}
        self.assertAlmostEqual(dragged["y"], before["y"] - 80, delta=6)
        self.page.mouse.move(before["x"] + 200, before["y"] + 60)
        self.assertEqual(bar.bounding_box(), dragged)  # let go of
        bar.focus()
        self.page.keyboard.press("ArrowDown")
        self.assertGreater((bar.bounding_box() or {})["y"], dragged["y"])

    def test_a_sheet_is_titled_its_totals_moved_and_its_drawing_deleted(self) -> None:
        sheet = Sheet.get(Sheet.project == self.project.id, Sheet.page == 1)
        page = self.go(f"/sheets/{sheet.id}")
        lines_read(page)
        page.get_by_label("Title of this sheet").fill("Foundations, all")
        page.keyboard.press("Enter")
        saved(page)
        self.assertEqual(Sheet.get_by_id(sheet.id).title, "Foundations, all")
        expect(page.locator(".totals")).to_contain_text("Concrete")
        page.get_by_role("button", name="Sheet ▾").click()
        page.get_by_role("button", name="Take the totals off").click()
        saved(page)
        expect(page.locator(".totals")).not_to_be_visible()
        page.get_by_role("button", name="Sheet ▾").click()
        page.get_by_role("button", name="Show the whole sheet").click()
        page.wait_for_timeout(300)
        page.get_by_role("button", name="Sheet ▾").click()
        page.get_by_role("button", name="Put the totals on the sheet").click()
        view = SheetOnScreen(page, (sheet.width, sheet.height))
        view.click((sheet.width * 0.7, sheet.height * 0.3))
        saved(page)
        at = Sheet.get_by_id(sheet.id).tally_at
        self.assertAlmostEqual(at[0], sheet.width * 0.7, delta=3 / view.scale)
        self.assertAlmostEqual(at[1], sheet.height * 0.3, delta=3 / view.scale)
        # What has been measured on stays; a drawing nobody measured on goes with its sheets, and comes back.
        page.get_by_role("button", name="Sheet ▾").click()
        page.get_by_role("button", name="Delete this drawing").click()
        expect(page.get_by_role("alert")).to_contain_text(
            "C1, GB1, GS1, PF1 are measured on drawing FW-S-101. Delete those figures first."
        )
        page.locator("[data-test=drawing-file]").set_input_files(
            {"name": "FW-S-205.pdf", "mimeType": "application/pdf", "buffer": scene.pdf(2)}
        )
        expect(page.locator(".desk-head")).to_contain_text("FW-S-205")
        page.get_by_role("button", name="Sheet ▾").click()
        page.get_by_role("button", name="Delete this drawing").click()
        saved(page)
        listed = page.get_by_role("complementary", name="Sheets")
        expect(listed.get_by_role("link", name=re.compile("FW-S-205|p. 2"))).to_have_count(0)
        page.keyboard.press("Control+z")
        saved(page)
        self.assertEqual(Sheet.select().where(Sheet.project == self.project.id).count(), 6)


class BillAndPriceTurns(DemoCase):
    def test_adjustments_and_sections_change_names_and_places(self) -> None:
        page = self.go("/bill")
        first, second, third = (
            Adjustment.select().where(Adjustment.project == self.project.id).order_by(Adjustment.position)
        )
        page.get_by_label(f"Name of {first.name}").fill("Site overheads")
        page.keyboard.press("Enter")
        saved(page)
        self.assertEqual(Adjustment.get_by_id(first.id).name, "Site overheads")
        total = scene.total(self.actor)
        page.get_by_role("button", name=f"{third.name} earlier").click()
        saved(page)
        names = [
            row.name
            for row in Adjustment.select()
            .where(Adjustment.project == self.project.id)
            .order_by(Adjustment.position)
        ]
        self.assertEqual(names, ["Site overheads", third.name, second.name])
        page.get_by_role("button", name=f"Take {third.name} off").click()
        saved(page)
        self.assertLess(scene.total(self.actor), total)
        page.get_by_role("complementary", name="Sections").get_by_role("link").first.click()
        own = own_bill(self.project.id)
        mine = Section.select().where(Section.bill == own).order_by(Section.position)
        before = [s.id for s in mine]
        page.get_by_role("button", name="section down").click()
        saved(page)
        after = [s.id for s in mine.clone()]
        self.assertEqual(after[:2], [before[1], before[0]])

    def test_an_item_is_deleted_by_keys_and_brought_back(self) -> None:
        page = self.go("/bill")
        item = Item.get(Item.project == self.project.id, Item.description.startswith("Trial pits"))
        total = scene.total(self.actor)
        cell(page, BILL, "Trial pits", 1).click()
        page.keyboard.press("Control+Delete")
        saved(page)
        self.assertIsNone(Item.get_or_none(Item.id == item.id))
        self.assertLess(scene.total(self.actor), total)
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("Control+z")
        saved(page)
        expect(cell(page, BILL, "Trial pits", 1)).to_be_visible()
        self.assertEqual(scene.total(self.actor), total)

    def test_resources_and_quotes_are_renamed_and_put_aside(self) -> None:
        cement = Resource.get(Resource.project == self.project.id, Resource.name == "Cement")
        page = self.go(f"/prices/{cement.id}")
        table = "Quotes for Cement"
        rows = page.get_by_role("grid", name=table).get_by_role("row")
        total = scene.total(self.actor)
        cell(page, table, "Quayside Merchants", 1).click()
        page.keyboard.press("Control+Delete")
        saved(page)
        self.assertEqual(Quote.select().where(Quote.resource == cement.id).count(), 2)
        self.assertEqual(
            Resource.get_by_id(cement.id).price, Decimal("0.204")
        )  # 5.10 for 25 kg: the only one still valid
        self.assertLess(scene.total(self.actor), total)
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("Control+z")
        saved(page)
        expect(rows.filter(has_text="Quayside Merchants")).to_have_count(1)
        page.get_by_label("Name of the resource").fill("Cement CEM II")
        page.keyboard.press("Enter")
        saved(page)
        expect(
            page.get_by_role("complementary", name="Resources").get_by_role(
                "link", name=re.compile("Cement CEM II")
            )
        ).to_be_visible()
        page.get_by_role("button", name="Show how this price comes about").or_(
            page.locator(".price button")
        ).first.click()
        expect(page.get_by_role("complementary", name="Working")).to_contain_text("Cement CEM II")
        # What rates draw on stays; what nothing draws on goes.
        page.get_by_role("button", name="Delete", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("Cement CEM II is used in")
        page.get_by_role("button", name="New resource").first.click()
        dialog = page.get_by_role("dialog", name="New resource")
        dialog.get_by_label("Name").fill("Plasticiser")
        dialog.get_by_role("button", name="Make it").click()
        expect(page.get_by_label("Name of the resource")).to_have_value("Plasticiser")
        page.get_by_role("button", name="Delete", exact=True).click()
        saved(page)
        self.assertIsNone(
            Resource.get_or_none(Resource.project == self.project.id, Resource.name == "Plasticiser")
        )


class ProjectTurns(DemoCase):
    def dialog(self) -> Locator:
        self.page.get_by_role("banner").get_by_role(
            "button", name=Project.get_by_id(self.project.id).name
        ).click()
        return self.page.get_by_role("dialog", name="The project")

    def test_its_client_its_price_date_and_how_it_rounds(self) -> None:
        page = self.go("/bill")
        dialog = self.dialog()
        for label, words in (("Client", "Lower Marl Drainage"), ("Name", "Ferrin Weir, phase 2")):
            dialog.get_by_label(label, exact=True).fill(words)
            page.keyboard.press("Enter")
            saved(page)
        now = Project.get_by_id(self.project.id)
        self.assertEqual((now.client, now.name), ("Lower Marl Drainage", "Ferrin Weir, phase 2"))
        expect(page.get_by_role("banner")).to_contain_text("Ferrin Weir, phase 2")
        # A day on which most quotes have lapsed: prices go, the total falls, and the checks say so.
        total = now.bill_total
        dialog.get_by_label(re.compile("^Price date")).fill("01 Mar 2027")
        page.keyboard.press("Enter")
        saved(page)
        self.assertLess(scene.total(self.actor), total)
        dialog.get_by_label("Decimals of m³").fill("7")
        page.keyboard.press("Enter")
        expect(dialog.get_by_role("alert")).to_contain_text("m³")
        page.keyboard.press("Escape")  # what was refused is dropped first
        page.keyboard.press("Escape")
        page.get_by_role("button", name=re.compile("^Checks")).click()
        checks = page.get_by_role("dialog", name="Checks")
        expect(checks).to_contain_text("Cement: has no quote valid on 01 Mar 2027.")
        checks.get_by_role("button", name=re.compile("^Cement: has no")).first.click()
        expect(page).to_have_url(re.compile("/prices/"))

    def test_a_person_let_out_sees_it_no_more(self) -> None:
        guest = scene.person("Dagny Holm")
        email = scene.email_of(guest)
        self.go("/bill")
        dialog = self.dialog()
        dialog.get_by_label("E-mail address of a person").fill(email)
        choose(dialog, "Role", "viewer")
        dialog.get_by_role("button", name="Let in").click()
        expect(dialog.locator(".person").filter(has_text=email)).to_contain_text("viewer")
        theirs = self.projects_of(email)
        theirs.get_by_role("button", name="Take it up").click()
        theirs.get_by_role("link", name=self.project.name).click()
        expect(theirs.get_by_text("looking only")).to_be_visible()
        dialog.get_by_role("button", name=f"Take {email} out").click()
        expect(dialog.locator(".person").filter(has_text=email)).to_have_count(0)
        theirs.reload()
        expect(theirs.get_by_role("alert")).to_be_visible()
        theirs.get_by_role("link", name="To your projects").click()
        expect(theirs.get_by_role("heading", name="Projects", exact=True)).to_be_visible()
        self.assertEqual([member.name for member in projects_reading.members(self.actor)], ["Asta Venn"])
        self.assertEqual([p.name for p in projects_reading.projects_of(guest)], [])

    def test_found_by_keys_and_signed_out(self) -> None:
        page = self.go("/bill")
        expect(page.get_by_role("grid", name=BILL)).to_be_visible()
        page.keyboard.press("Control+k")
        find = page.get_by_role("dialog", name="Find and go to")
        find.get_by_label("Find").fill("block")
        options = find.get_by_role("button").filter(has=page.locator(".quiet"))
        expect(options.nth(1)).to_be_visible()
        wanted = options.nth(1).inner_text()
        page.keyboard.press("ArrowDown")
        page.keyboard.press("ArrowDown")
        page.keyboard.press("ArrowUp")
        page.keyboard.press("Enter")
        expect(find).not_to_be_visible()
        expect(page.locator("main")).to_contain_text(wanted.split("\n")[0])
        page.keyboard.press("Control+k")
        find.get_by_label("Find").fill("nothing like it")
        expect(find).to_contain_text("Nothing by that name in this project.")
        page.keyboard.press("Enter")
        page.keyboard.press("Escape")
        page.get_by_role("button", name=re.compile("sign out")).click()
        expect(page.get_by_label("Password")).to_be_visible()
        self.go("/bill")
        expect(page.get_by_label("Password")).to_be_visible()
