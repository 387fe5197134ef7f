"""A make-up written by someone who doesn't program: by its form, tried beside it, used on an element."""

from __future__ import annotations

import re
import tomllib

from playwright.sync_api import Page, expect

from sandscale.core.makeups.makeup import built_in_source
from tests.browser.desk import DemoCase, cell, choose, make_up, saved, text_of, type_row


class Form(DemoCase):
    def formula(self, page: Page, text: str) -> None:
        page.get_by_role("textbox", name="Formula, for one dimension line").click()
        page.keyboard.press("Control+a")
        page.keyboard.type(text)

    def tab(self, page: Page, name: str) -> None:
        page.get_by_role("tab", name=re.compile(f"^{name}")).click()

    def test_a_make_up_is_written_tried_kept_and_used_without_its_text(self) -> None:
        page = self.go("/make-ups/pad-footing")
        page.get_by_role("button", name="Start empty").click()
        page.get_by_label("Name", exact=True).fill("Handrail")
        self.tab(page, "It asks")
        page.get_by_role("button", name="Take Thickness out").click()
        page.get_by_role("button", name="Another question").click()
        page.get_by_label("The question").fill("Brackets at")
        page.get_by_label("When nothing is entered").fill("1.2")
        page.get_by_label("Under the heading").fill("Fixing")
        page.get_by_role("button", name="Another question").click()
        page.get_by_label("The question").fill("Post")
        choose(page, "Answered by", "one of", "one of some choices")
        page.get_by_label("Choice, row 1", exact=True).fill("light")
        page.get_by_label("Choice, row 2", exact=True).fill("heavy")
        choose(page, "When nothing is chosen", "light")
        name = page.get_by_label("Name of the value post_is")
        name.fill("post_mass")
        name.press("Enter")
        for row, mass in ((1, "2.5 kg"), (2, "4 kg")):
            page.get_by_label(f"post_mass, row {row}").fill(mass)
        self.tab(page, "It gives")
        # What is refused is open; what is said of it stays there while the row is called something else.
        expect(page.get_by_role("button", name=re.compile("^Net")).first).to_have_attribute(
            "aria-expanded", "true"
        )
        page.get_by_label("What comes of it").fill("Rail")
        self.assertEqual(page.locator(".row.refused").count(), 1)
        choose(page, "Unit", "m")
        self.formula(page, "times * length")
        page.get_by_role("button", name="Another result").click()
        page.get_by_label("What comes of it").fill("Brackets")
        choose(page, "Unit", "nr")
        # A name is offered while it is typed, and taken by Enter.
        self.formula(page, "times * length / brackets")
        expect(page.get_by_role("listbox")).to_contain_text("brackets_at")
        # While a list is asked for anew the old one stands, and takes no key.
        expect(page.locator(".cm-tooltip-autocomplete-disabled")).to_have_count(0)
        page.keyboard.press("Enter")
        tried = page.get_by_role("complementary", name="Tried on a sample")
        expect(tried).to_contain_text("2 nr")  # 2.40 at 1.20
        # Two and a half brackets: it asks, once.
        tried.get_by_label(re.compile("^Length")).fill("3.0")
        expect(tried.get_by_role("status")).to_contain_text("Can part of one be had?")
        tried.get_by_role("button", name="No: round each line up").click()
        expect(tried).to_contain_text("3 nr")
        expect(tried.get_by_role("status")).to_have_count(0)
        # Units are checked at once; the row says why, and no old result stands meanwhile.
        page.get_by_role("button", name="Another result").click()
        page.get_by_label("What comes of it").fill("Steel")
        choose(page, "Unit", "kg")
        self.formula(page, "times * length * post_mass")
        expect(page.get_by_role("alert")).to_contain_text("gives something in")
        expect(tried).not_to_contain_text("3 nr")
        expect(page.get_by_role("tab", name="It gives 3 !")).to_be_visible()
        expect(page.get_by_role("button", name="Prove and keep")).to_be_disabled()
        self.formula(page, "times * ceil(length / brackets_at) * post_mass")
        expect(tried).to_contain_text("8 kg")  # 3 posts of 2.5
        tried.get_by_text("Fixing", exact=True).wait_for()
        self.tab(page, "Picture")
        page.get_by_role("button", name="Another outline").click()
        page.get_by_label("What is drawn").fill("Rail")
        expect(tried.locator("svg[role=img]")).to_be_visible()
        page.get_by_role("button", name="Prove and keep").click()
        expect(page).to_have_url(re.compile("/make-ups/handrail$"))
        # Another name for a value is followed wherever it is used.
        self.tab(page, "It asks")
        page.get_by_role("button", name=re.compile("^Brackets at")).first.click()
        name = page.get_by_label("Its name in formulas")
        name.fill("spacing")
        name.press("Enter")
        expect(tried).to_contain_text("8 kg")
        self.assertIn("length / spacing", text_of(page))
        page.get_by_role("button", name="Prove and keep").click()
        expect(page.get_by_role("button", name="Prove and keep")).to_be_disabled()
        saved(page)

        page = self.go("/measure")
        expect(page.get_by_role("link", name=re.compile("^PF2"))).to_be_visible()
        page.get_by_role("button", name="New element", exact=True).first.click()
        page.get_by_label("Mark, as on the drawing").fill("HR1")
        choose(page, "Make-up", "Handrail")
        page.get_by_role("button", name="Make it").click()
        cell(page, "Dimension lines of HR1", "type or draw", 1).click()
        type_row(page, "7")
        saved(page)
        expect(page.get_by_role("region", name="Quantities of HR1")).to_contain_text("6")  # 7.00 / 1.20, up
        asked = make_up(page)
        expect(asked.get_by_role("heading", name="Fixing")).to_be_visible()
        choose(asked, "Post", "heavy")
        saved(page)
        expect(page.get_by_role("region", name="Quantities of HR1")).to_contain_text("24")

    def test_the_form_and_the_text_are_one_thing(self) -> None:
        for key in ("lintel", "blockwork", "plain-area"):
            page = self.go(f"/make-ups/{key}")
            page.get_by_role("button", name="Copy and change").click()
            about = page.get_by_label("What it is for, and what a line of it counts")
            about.fill("Ours, with “quotes” and a \\ in it")
            written, before = tomllib.loads(text_of(page)), tomllib.loads(built_in_source(key))
            expected = {
                **before, "key": f"{key}-own", "name": f"{before['name']}, our own",
                "about": "Ours, with “quotes” and a \\ in it",
            }  # fmt: skip
            self.assertEqual(self.filled(written), self.filled(expected))
            self.assertIn(built_in_source(key).splitlines()[0], text_of(page))  # its comment
        # What can't be read isn't shown as a form, and loses nothing.
        as_it_was = text_of(page)
        page.locator(".cm-content").click()
        page.keyboard.press("Control+End")
        page.keyboard.type("oops [")
        page.get_by_role("button", name="As a form").click()
        expect(page.get_by_role("alert").first).to_contain_text(
            "can’t be shown as a form until it is put right"
        )
        page.get_by_role("button", name="To the text").click()
        self.assertEqual(text_of(page).strip(), f"{as_it_was.strip()}\noops [")

    def filled(self, document: object) -> object:
        """A document without what is empty."""
        if isinstance(document, dict):
            return {k: self.filled(v) for k, v in document.items() if v not in ("", [], False)}
        return [self.filled(each) for each in document] if isinstance(document, list) else document
