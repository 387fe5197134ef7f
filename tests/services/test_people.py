"""Who may come in: invitations, passwords, sessions, tries to sign in; and what is left when a person or a project goes."""

from __future__ import annotations

import os
import re
import shutil
import tempfile
import threading
from datetime import timedelta
from pathlib import Path
from unittest.mock import patch

from sandscale import settings
from sandscale.core.refusals import BadEntry, Refusal
from sandscale.services.keeping import jobs, worker
from sandscale.services.keeping.acting import Actor, Forbidden, InUse, Missing
from sandscale.services.people import accounts, invitations, passwords, signing_in
from sandscale.services.projects import actions as projects
from sandscale.services.projects import reading as projects_reading
from sandscale.services.shelves import actions as shelves
from sandscale.standins.mailbox import Mailbox
from sandscale.store.database import database
from sandscale.store.models import (
    ALL_TABLES,
    Change,
    Invitation,
    Job,
    Membership,
    Person,
    Project,
    Session,
    Shelf,
    SignInTry,
    now,
)
from tests import scene
from tests.served import free_port

HERE, THERE = "127.0.0.1", "10.1.2.3"


def at_once(task: object, times: int = 6) -> list[object]:
    """What a task gives when that many try it at the same moment, each on a connection of its own."""
    results: list[object] = []
    start = threading.Barrier(times)

    def one() -> None:
        start.wait()
        try:
            results.append(task())  # type: ignore[operator]
        except Refusal as refusal:
            results.append(refusal)
        finally:
            database.close()

    threads = [threading.Thread(target=one) for _ in range(times)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return results


class Invited(scene.DatabaseCase):
    def setUp(self) -> None:
        super().setUp()
        folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, folder)
        port = free_port()
        self.mailbox = Mailbox(folder / "letters", port)
        self.mailbox.start()
        mail = {settings.MAIL: f"smtp://127.0.0.1:{port}", settings.PUBLIC_ADDRESS: "https://sand.test"}
        self.addCleanup(self.mailbox.stop)
        patching = patch.dict(os.environ, mail)
        patching.start()
        self.addCleanup(patching.stop)

    def token(self, address: str) -> str:
        worker.work_off()
        letter = self.mailbox.letters(address)[0]
        found = re.search(r"https://sand\.test/invited/(\S+)", letter.get_content())
        assert found is not None
        return found[1]

    def test_a_letter_makes_the_account_it_went_to_and_admits_to_one_project_once(self) -> None:
        owner, outsider = scene.project("Weir & “Lock”"), scene.project("Another")
        with self.assertRaises(Forbidden):
            projects.share(scene.member(owner, "editor"), "new@test.example", "viewer")
        address = f"new-{owner.project_id}@test.example"
        for actor, role in ((owner, "editor"), (outsider, "viewer")):
            self.assertIsNone(projects.share(actor, address, role))  # nothing that opens anything comes back
        self.assertIn((address, True), [(m.email, m.invited) for m in projects_reading.members(owner)])
        token = self.token(address)
        self.assertEqual(len(self.mailbox.letters(address)), 2)
        admits_to = Invitation.get(Invitation.token_hash == signing_in.hash_of(token)).project_id
        for name, password, said in (
            ("", scene.PASSWORD, "needs a name"),
            ("N", "password123", "easily guessed"),
        ):
            with self.assertRaisesRegex(BadEntry, said):
                invitations.accept(token, name, password)
        results = at_once(lambda: invitations.accept(token, "Nella Brook", scene.PASSWORD))
        came_in = [r for r in results if isinstance(r, tuple)]
        self.assertEqual(len(came_in), 1)
        self.assertEqual(Person.select().where(Person.email == address).count(), 1)
        person = Person.get(Person.email == address)
        self.assertEqual(
            [m.project_id for m in Membership.select().where(Membership.person == person)], [admits_to]
        )
        # The other place still waits, and is taken up signed in, once.
        (waiting,) = invitations.waiting_for(person)
        results = at_once(lambda: invitations.take_up(person, waiting.id))
        self.assertEqual(len([r for r in results if isinstance(r, int)]), 1)
        self.assertEqual(Membership.select().where(Membership.person == person).count(), 2)

    def test_a_letter_that_the_relay_does_not_take_is_sent_later(self) -> None:
        owner = scene.project()
        address = f"slow-{owner.project_id}@test.example"
        with patch.dict(os.environ, {settings.MAIL: f"smtp://127.0.0.1:{free_port()}"}):
            projects.share(owner, address, "viewer")
            worker.work_off()
        job = Job.get((Job.project == owner.project_id) & (Job.kind == invitations.LETTER))
        self.assertEqual((job.state, job.tries), ("waiting", 1))
        self.assertIn("could not be sent", job.said)
        jobs.do(job.id)
        self.assertEqual(Job.get_by_id(job.id).state, "done")
        self.assertEqual(len(self.mailbox.letters(address)), 1)

    def test_an_account_takes_its_own_invitations_up_and_no_one_elses(self) -> None:
        owner, guest, other = scene.project(), scene.person("Guest"), scene.person("Other")
        address = scene.email_of(guest)
        projects.share(owner, address, "viewer")
        self.assertIsNone(signing_in.role_in(guest, owner.project_id))  # nobody is put into a project unasked
        row = Invitation.get(Invitation.email == address)
        for act in (invitations.take_up, invitations.decline):
            with self.assertRaises(Missing):
                act(Person.get_by_id(other), row.id)
        # The link of the letter makes no second account, and takes over none.
        with self.assertRaises(signing_in.SignInRefused) as refused:
            invitations.accept(self.token(address), "Guest", scene.PASSWORD)
        self.assertEqual(refused.exception.code, "has-account")
        invitations.take_up(Person.get_by_id(guest), row.id)
        self.assertEqual(signing_in.role_in(guest, owner.project_id), "viewer")
        projects.share(owner, scene.email_of(other), "editor")
        invitations.decline(
            Person.get_by_id(other), Invitation.get(Invitation.email == scene.email_of(other)).id
        )
        self.assertIsNone(signing_in.role_in(other, owner.project_id))

    def test_one_that_lapsed_was_replaced_or_taken_back_opens_nothing(self) -> None:
        owner = scene.project()
        address = f"late-{owner.project_id}@test.example"
        projects.share(owner, address, "owner")
        first = self.token(address)
        projects.share(owner, address, "viewer")
        second = self.token(address)
        Invitation.update(expires=now() - timedelta(seconds=1)).where(Invitation.email == address).execute()
        for token in (first, second, "", "x" * 32):
            with self.assertRaisesRegex(Refusal, "no longer holds"):
                invitations.accept(token, "Late", scene.PASSWORD)
        projects.unshare(owner, address)
        self.assertFalse(Invitation.select().where(Invitation.email == address).exists())


class SigningIn(scene.DatabaseCase):
    def setUp(self) -> None:
        super().setUp()
        SignInTry.delete().execute()
        self.held: list[float] = []
        asleep = threading.Event()  # what holds tries back is noted, and takes a moment only

        def hold(seconds: float) -> None:
            self.held.append(seconds)
            asleep.wait(0.2)

        patching = patch.object(signing_in.time, "sleep", hold)
        patching.start()
        self.addCleanup(patching.stop)

    def refused(self, email: str, origin: str = HERE) -> float:
        """How long a try with a wrong password was held back."""
        before = len(self.held)
        with self.assertRaises(signing_in.SignInRefused):
            signing_in.sign_in(email, "not-this-one", origin)
        return sum(self.held[before:])

    def test_guessing_is_held_back_ever_longer_and_the_victim_gets_in(self) -> None:
        email = scene.email_of(scene.person())
        held = [self.refused(email) for _ in range(signing_in.FREE + 8)]
        self.assertEqual(held, [0] * signing_in.FREE + [0.25, 0.5, 1, 2, 4, 8, 8, 8])
        self.assertEqual(self.refused(email, THERE), 0)
        for origin in (THERE, HERE):
            token, _ = signing_in.sign_in(email, scene.PASSWORD, origin)
            self.assertIsNotNone(signing_in.session_of(token))
        self.assertEqual(SignInTry.select().where(SignInTry.email == email).count(), 0)

    def test_tries_at_once_count_one_another_and_one_origin_for_all_addresses(self) -> None:
        email, most = scene.email_of(scene.person()), signing_in.FREE + 10
        results = at_once(lambda: signing_in.sign_in(email, "wrong-wrong", HERE), most)
        self.assertTrue(all(isinstance(r, Refusal) for r in results))
        sent_away = [r for r in results if isinstance(r, passwords.TooManyTries)]
        self.assertEqual(
            len(self.held) + len(sent_away), 10
        )  # each but the free ones was counted by those after it
        self.assertGreater(len(sent_away), 0)
        self.assertTrue(all(r.numbers["wait"] > 0 for r in sent_away))
        for number in range(signing_in.FREE_OF_ORIGIN - most):
            SignInTry.create(email=f"{number}@test.example", origin=HERE)
        self.assertEqual(
            (self.refused("anyone@test.example"), self.refused("anyone@test.example", THERE)), (0.25, 0)
        )

    def test_a_range_of_the_new_addresses_is_one_origin(self) -> None:
        self.assertEqual(signing_in.network("2001:db8:1:2:3::4"), signing_in.network("2001:db8:1:2:ffff::"))
        self.assertNotEqual(signing_in.network("2001:db8:1:2::"), signing_in.network("2001:db8:1:3::"))
        self.assertEqual(
            (signing_in.network("10.0.0.7"), signing_in.network("nonsense")), ("10.0.0.7", "unknown")
        )

    def test_a_session_ends_unused_is_kept_by_use_and_gives_way_to_the_next(self) -> None:
        email = scene.email_of(scene.person())
        token, session = signing_in.sign_in(email, scene.PASSWORD, HERE)
        mine = Session.token_hash == session.token_hash
        for unused, counts in ((timedelta(hours=23), True), (timedelta(hours=25), False)):
            Session.update(used=now() - unused).where(mine).execute()
            self.assertEqual(signing_in.session_of(token) is not None, counts)
        Session.update(used=now() - timedelta(hours=1)).where(mine).execute()
        signing_in.session_of(token)
        self.assertLess(now() - Session.get(mine).used, timedelta(minutes=1))
        second, _ = signing_in.sign_in(email, scene.PASSWORD, HERE, token)
        self.assertIsNone(signing_in.session_of(token))
        third, _ = signing_in.sign_in(email, scene.PASSWORD, HERE)
        signing_in.sign_out_everywhere(Person.get(Person.email == email).id)
        self.assertEqual([signing_in.session_of(t) for t in (second, third)], [None, None])

    def test_a_weak_password_is_told_why_and_a_long_one_costs_no_more(self) -> None:
        for password, said in (
            ("short", "8 to 200 characters"), ("x" * 201, "8 to 200"), ("password123", "very common"), ("sandscale", "easily guessed"),
            ("asta@venn.example", "easily guessed"), ("qwertyuiop", "easily guessed"),
        ):  # fmt: skip
            with self.subTest(password), self.assertRaisesRegex(BadEntry, said):
                passwords.check(password, ["Asta Venn", "asta@venn.example"])
        with patch.object(passwords, "zxcvbn", wraps=passwords.zxcvbn) as looked:
            passwords.check("terrace level weir " * 10)
        self.assertEqual(len(looked.call_args.args[0]), passwords.LOOKED_AT)


class Leaving(scene.DatabaseCase):
    def test_a_person_goes_with_what_is_theirs_alone_and_what_they_did_for_others_stays(self) -> None:
        owner = scene.project("Shared")
        scene.priced(owner)
        editor = scene.member(owner, "editor")
        scene.pf2(editor)
        alone = projects.new_project(editor.person_id, "Alone", "", "EUR", scene.PRICE_DATE).id
        shelf = shelves.add_shelf(editor.person_id, "Mine", "").id
        with self.assertRaisesRegex(InUse, "Others work in “Shared”"):
            accounts.remove_person(Person.get_by_id(owner.person_id))
        accounts.remove_person(Person.get_by_id(editor.person_id))
        self.assertIsNone(Project.get_or_none(Project.id == alone))
        self.assertIsNone(Shelf.get_or_none(Shelf.id == shelf))
        theirs = Change.select().where((Change.project == owner.project_id) & Change.person.is_null())
        self.assertGreaterEqual(theirs.count(), 2)
        accounts.remove_person(Person.get_by_id(owner.person_id))  # nobody else is left in it now
        self.assertIsNone(Project.get_or_none(Project.id == owner.project_id))

    def test_a_project_goes_with_every_row_of_it_and_nobody_but_its_owner_deletes_it(self) -> None:
        owner, other = scene.project("To go"), scene.project("To stay")
        for actor in (owner, other):
            scene.priced(actor)
            scene.sheet(actor)
        worker.work_off()
        before = self.rows(other.project_id)
        for actor, name, refusal in (
            (Actor(owner.person_id, owner.project_id, "editor"), "To go", Forbidden), (owner, "to go", BadEntry),
        ):  # fmt: skip
            with self.assertRaises(refusal):
                projects.delete_project(actor, name)
        projects.delete_project(owner, "To go")
        self.assertEqual(set(self.rows(owner.project_id).values()), {0})
        self.assertEqual(self.rows(other.project_id), before)

    def rows(self, project: int) -> dict[str, int]:
        return {
            model.__name__: model.select().where(model.project == project).count()
            for model in ALL_TABLES
            if "project" in model._meta.fields
        }

    def test_who_looks_at_a_project_is_told_to_the_others_for_a_while(self) -> None:
        owner = scene.project()
        colleague = scene.member(owner, "viewer", "Ilo Marsh")
        self.assertEqual(projects_reading.here(owner).names, [])
        self.assertEqual(projects_reading.here(colleague).names, ["Test Person"])
        self.assertEqual(projects_reading.here(owner).names, ["Ilo Marsh"])
        Membership.update(seen=Membership.seen - timedelta(minutes=1)).execute()
        self.assertEqual(projects_reading.here(colleague).names, [])

    def test_a_shelf_is_shared_with_colleagues_and_tells_of_nobody_else(self) -> None:
        owner = scene.project()
        colleague, stranger = scene.member(owner, "viewer"), scene.person()
        shelf = shelves.add_shelf(owner.person_id, "Shared", "").id
        said = []
        for email in (scene.email_of(stranger), "nobody.at.all@test.example"):
            with self.assertRaises(BadEntry) as refused:
                shelves.share_shelf(owner.person_id, shelf, email)
            said.append(refused.exception.sentence.replace(email, ""))
        self.assertEqual(said[0], said[1])
        shelves.share_shelf(owner.person_id, shelf, scene.email_of(colleague.person_id))
        self.assertEqual([s.id for s in shelves.shelves_of(colleague.person_id)], [shelf])
