"""What goes out: packages with the bill as it was, forms of one's own filled, live tables."""

from __future__ import annotations

import csv
import io
import os
import shutil
import tempfile
import zipfile
from decimal import Decimal as D
from pathlib import Path
from unittest.mock import patch

from openpyxl import Workbook, load_workbook
from openpyxl.styles import Font
from openpyxl.workbook.defined_name import DefinedName

from sandscale import settings
from sandscale.core.refusals import BadEntry, Refusal
from sandscale.formats.bill_workbook import UnreadableBill
from sandscale.formats.project_json import UnreadableProject
from sandscale.services.bill import actions as bill
from sandscale.services.bill import bills, compared, composing
from sandscale.services.bill import reading as bill_reading
from sandscale.services.issue import forms, live, packages, reading
from sandscale.services.keeping import history, jobs, worker
from sandscale.services.keeping.acting import Actor, Forbidden, InUse, Missing
from sandscale.services.people.accounts import remove_person
from sandscale.standins.mailbox import Mailbox
from sandscale.store.models import FormCell, IssuedPackage, Item, Job, Membership, OwnForm, Person
from tests import scene
from tests.served import free_port


def own_form() -> bytes:
    """A workbook as a contractor might have it: a cover, a hidden sheet of formulas, a range with a name."""
    book = Workbook()
    cover = book.active
    cover.title = "Cover sheet"
    cover["A1"], cover["A3"], cover["B3"] = "Tender sum", "Concrete", "tbd"
    cover["B3"].font = Font(bold=True)
    hidden = book.create_sheet("Sums")
    hidden["A1"] = "=2*'Cover sheet'!B3"
    hidden.sheet_state = "hidden"
    book.defined_names["tender_sum"] = DefinedName("tender_sum", attr_text="'Cover sheet'!$B$1")
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


class Issued(scene.DatabaseCase):
    def setUp(self) -> None:
        super().setUp()
        self.actor = scene.project("Hall, east wing")
        self.ids = scene.priced(self.actor)

    def issue(self, title: str, **chosen: list[str]) -> Job:
        job = packages.ask_for_package(
            self.actor, title, chosen or {"bill": ["xlsx", "pdf"], "dimensions": ["pdf"]}
        )
        worker.work_off()
        return Job.get_by_id(job.id)

    def dearer(self) -> None:
        item = Item.get_by_id(self.ids["item"])
        change = {"typed_rate": "200", "rate_reason": "agreed"}
        bill.change_item(self.actor, item.id, item.version, change)

    def content(self, row: IssuedPackage) -> zipfile.ZipFile:
        return zipfile.ZipFile(io.BytesIO(packages.content_of(self.actor, row.id)[1]))


class Packages(Issued):
    def test_a_package_holds_what_was_chosen_and_the_bill_as_it_was(self) -> None:
        composing.add_part(self.actor, self.ids["item"], self.ids["rate"], "1.5")
        was, own = (
            scene.total(self.actor),
            bill_reading.foot_of(bill_reading.own_bill(self.actor.project_id).id),
        )
        self.assertEqual(self.issue("Tender").state, "done")
        self.dearer()
        self.issue("Addendum", bill=["pdf", "X84"])
        first, second = IssuedPackage.those(
            IssuedPackage.project, [self.actor.project_id], IssuedPackage.number
        )
        names = [name.split()[0] + name[-4:] for name in self.content(first).namelist()]
        self.assertEqual(names, ["01xlsx", "01.pdf", "02.pdf", "00.pdf"])
        foot = bill_reading.foot_of(first.bill_id)  # what was composed stays so, without its parts
        self.assertEqual((foot.composite, foot.items_total), (own.composite, own.items_total))
        self.assertGreater(own.composite, 0)
        kept = [bill_reading.bill_view(self.actor, row.bill_id).total for row in (first, second)]
        self.assertEqual(kept, [was, scene.total(self.actor)])
        self.assertNotEqual(kept[0], kept[1])
        book = load_workbook(io.BytesIO(self.content(first).read(first.contents[0]["name"])))
        self.assertIn("Bill", book.sheetnames)
        found = reading.compared(self.actor, first.id, second.id)
        self.assertEqual(
            [(d.title, d.before, d.after) for d in found.documents],
            [("Bill of quantities", True, True), ("Dimension sheets", True, False)],
        )
        self.assertEqual([d.name for d in found.documents[0].differs], ["items", "total"])
        self.assertNotEqual(compared.compared(self.actor, first.bill_id, second.bill_id).moved, 0)
        with self.assertRaisesRegex(InUse, "Package 1 went out with this bill"):
            bills.delete_bill(self.actor, first.bill_id)
        history.undo(self.actor)  # taken back, and issued again
        self.assertEqual(len(reading.packages_view(self.actor).packages), 1)
        history.redo(self.actor)
        self.assertEqual(len(self.content(IssuedPackage.get_by_id(second.id)).namelist()), 3)

    def test_a_job_done_twice_issues_once_and_a_part_that_fails_is_named(self) -> None:
        job = self.issue("Tender")
        packages.work_of(job, lambda _share: None)
        mine = IssuedPackage.project == self.actor.project_id
        self.assertEqual(IssuedPackage.select().where(mine).count(), 1)
        with patch.dict(jobs.kinds(), {"bill_pdf": lambda _job, _progress: self.refuse()}):
            failed = self.issue("Second")
        self.assertEqual((failed.state, failed.said), ("failed", "Bill of quantities: There is no ink."))
        viewer = scene.member(self.actor, "viewer")
        for actor, title, chosen, wrong in (
            (viewer, "x", {"bill": ["pdf"]}, Forbidden), (self.actor, " ", {"bill": ["pdf"]}, BadEntry),
            (self.actor, "x", {}, BadEntry), (self.actor, "x", {"bill": ["dwg"]}, BadEntry),
            (self.actor, "x", {"work:1": ["pdf"]}, BadEntry),
        ):  # fmt: skip
            with self.assertRaises(wrong):
                packages.ask_for_package(actor, title, chosen)
        with self.assertRaises(BadEntry):
            packages.ask_for_package(self.actor, "x", {"bill": ["pdf"]}, "nobody")
        self.assertEqual(IssuedPackage.select().where(mine).count(), 1)

    def refuse(self) -> None:
        raise Refusal("There is no ink.")

    def test_a_package_goes_by_letter(self) -> None:
        folder, port = Path(tempfile.mkdtemp()), free_port()
        self.addCleanup(shutil.rmtree, folder)
        box = Mailbox(folder / "letters", port)
        box.start()
        self.addCleanup(box.stop)
        with patch.dict(os.environ, {settings.MAIL: f"smtp://127.0.0.1:{port}"}):
            packages.ask_for_package(
                self.actor, "Tender", {"bill": ["pdf"]}, "client@hall.example", "As agreed."
            )
            worker.work_off()
        letter = box.letters("client@hall.example")[0]
        self.assertIn("As agreed.", letter.get_body(("plain",)).get_content())
        (file,) = letter.iter_attachments()
        self.assertEqual(file.get_content_type(), "application/zip")
        self.assertEqual(len(zipfile.ZipFile(io.BytesIO(file.get_content())).namelist()), 2)

    def test_packages_and_forms_come_back_from_a_project_file(self) -> None:
        self.issue("Tender")
        form = scene.id_of(forms.add_form(self.actor, own_form(), "Cover.xlsx"))
        forms.tie_cell(self.actor, form, "tender_sum", f"item:{self.ids['item']}")
        forms.tie_cell(self.actor, form, "Cover sheet!B3", f"quantity:{self.ids['element']}:concrete")
        content = scene.file_of(self.actor)
        person = scene.person()
        other = scene.taken_in(person, content)
        actor = Actor(person, other.id, "owner")
        (row,) = OwnForm.those(OwnForm.project, [other.id])
        told = [
            [(c.place, c.name, c.value, c.says) for c in forms.form_view(a, f).cells]
            for a, f in ((self.actor, form), (actor, row.id))
        ]
        self.assertEqual(told[0], told[1])
        self.assertTrue(all(value and not says for _, _, value, says in told[0]))
        self.assertEqual(scene.file_of(actor), content)
        spoilt = content.replace(b'"item:1"', b'"item:9"')
        with self.assertRaisesRegex(UnreadableProject, "names row 9"):
            scene.taken_in(person, spoilt)


class Forms(Issued):
    def setUp(self) -> None:
        super().setUp()
        self.form = scene.id_of(forms.add_form(self.actor, own_form(), "Cover.xlsx"))

    def filled(self) -> Workbook:
        job = jobs.ask_for(self.actor, "form_filled", {"form": self.form})
        worker.work_off()
        name, content = jobs.result(self.actor, job.id)
        self.assertEqual(name, "Cover.xlsx")
        return load_workbook(io.BytesIO(content))

    def test_a_form_is_filled_and_filled_again(self) -> None:
        amount, concrete = f"item:{self.ids['item']}", f"quantity:{self.ids['element']}:concrete"
        forms.tie_cell(self.actor, self.form, "tender_sum", amount)
        forms.tie_cell(self.actor, self.form, "Cover sheet!B3", concrete)
        forms.tie_cell(self.actor, self.form, "Cover sheet!D40", amount)  # in a row that the form hasn't
        book = self.filled()
        cover = book["Cover sheet"]
        was = Item.get_by_id(self.ids["item"]).amount
        self.assertEqual([D(str(cover[at].value)) for at in ("B1", "D40")], [was, was])
        self.assertEqual((cover["A1"].value, cover["B3"].font.b), ("Tender sum", True))
        self.assertEqual(
            (book["Sums"]["A1"].value, book["Sums"].sheet_state), ("=2*'Cover sheet'!B3", "hidden")
        )
        self.dearer()
        again = self.filled()["Cover sheet"]
        self.assertEqual(D(str(again["B1"].value)), Item.get_by_id(self.ids["item"]).amount)
        self.assertNotEqual(D(str(again["B1"].value)), was)
        self.assertEqual(cover["B3"].value, again["B3"].value)

    def test_what_can_t_be_tied_is_told_and_what_is_gone_is_left_as_it_was(self) -> None:
        item = f"item:{self.ids['item']}"
        for place, ref, wrong, says in (
            ("Sums!A1", item, BadEntry, "A formula stands in Sums!A1"), ("Sum!A2", item, BadEntry, "no sheet"),
            ("sum total", item, BadEntry, "no range"), ("Sums!A2", "item:0", Missing, "not in this project"),
            ("Sums!A2", "bar:3", Missing, "can be kept"), ("Sums!A2", "nothing", Missing, "can be kept"),
        ):  # fmt: skip
            with self.assertRaisesRegex(wrong, says):
                forms.tie_cell(self.actor, self.form, place, ref)
        self.assertFalse(FormCell.those(FormCell.form, [self.form]))
        forms.tie_cell(self.actor, self.form, "Cover sheet!B3", item)
        forms.tie_cell(self.actor, self.form, "tender_sum", "bill")
        bill.delete_item(self.actor, self.ids["item"])
        says = {cell.place: cell.says for cell in forms.form_view(self.actor, self.form).cells}
        self.assertIn("not in this project any more", says["Cover sheet!B3"])
        self.assertEqual(self.filled()["Cover sheet"]["B3"].value, "tbd")
        for content in (b"", b"PK\x03\x04broken", b"\xd0\xcf\x11\xe0encrypted"):
            with self.assertRaises(UnreadableBill):
                forms.replace_form(self.actor, self.form, content, "x.xlsx")


class LiveTables(Issued):
    def test_a_table_is_read_by_its_address_until_its_key_is_withdrawn(self) -> None:
        opened = live.open_table(self.actor, "bill", "")
        key = opened.path.split("/")[3]
        self.assertNotIn(key, str(live.live_tables(self.actor)))
        item = Item.get_by_id(self.ids["item"])
        bill.change_item(self.actor, item.id, item.version, {"description": "=HYPERLINK(1)"})
        first = live.read(key, "bill")
        _, *rows = csv.reader(io.StringIO(first.content.decode("utf-8-sig")))
        (row,) = [row for row in rows if "HYPERLINK" in row[3]]
        self.assertEqual((row[3], D(row[7])), ("'=HYPERLINK(1)", Item.get_by_id(item.id).amount))
        self.dearer()
        second = live.read(key, "bill")
        self.assertNotEqual((first.mark, first.content), (second.mark, second.content))
        for wrong in ("x" * 43, key[:-1], ""):
            with self.assertRaises(Missing):
                live.read(wrong, "bill")
        with self.assertRaises(Missing):
            live.read(key, "prices")
        live.withdraw(self.actor, opened.id)
        with self.assertRaisesRegex(live.Withdrawn, "was withdrawn"):
            live.read(key, "bill")

    def test_every_table_is_told_and_a_key_ends_with_its_maker(self) -> None:
        editor = scene.member(self.actor, "editor")
        keys = {what: live.open_table(editor, what, "").path.split("/")[3] for what in live.TABLES}
        for what, key in keys.items():
            lines = live.read(key, what).content.decode("utf-8-sig").splitlines()
            self.assertGreater(len(lines), 0 if what in ("bars", "works") else 1, what)
        for what in ("viewer", ""):
            with self.subTest(what), self.assertRaises((Forbidden, BadEntry)):
                live.open_table(scene.member(self.actor, "viewer") if what else self.actor, "nothing", "")
        Membership.delete().where(Membership.person == editor.person_id).execute()
        with self.assertRaises(live.Withdrawn):
            live.read(keys["bill"], "bill")
        remove_person(Person.get_by_id(editor.person_id))
        with self.assertRaises(Missing):
            live.read(keys["bill"], "bill")
