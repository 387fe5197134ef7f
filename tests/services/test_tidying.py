"""What lapsed no longer counts, and what nothing needs is cleared away; what may still be needed stays."""

from __future__ import annotations

from datetime import timedelta

from sandscale.services.keeping import history, jobs, worker
from sandscale.services.keeping.tidying import tidy
from sandscale.services.people import signing_in
from sandscale.services.projects import actions as projects
from sandscale.services.sheets import actions as sheets
from sandscale.store.models import Change, Drawing, Invitation, Job, Project, Session, StoredFile, now
from tests import scene


class Tidying(scene.DatabaseCase):
    def test_a_session_counts_until_it_lapses_and_is_cleared_then(self) -> None:
        person = scene.person()
        token, session = signing_in.sign_in(scene.email_of(person), scene.PASSWORD, "127.0.0.1")
        mine = Session.token_hash == session.token_hash
        for left, counts in ((timedelta(seconds=30), True), (-timedelta(seconds=1), False)):
            Session.update(expires=now() + left).where(mine).execute()
            self.assertEqual(signing_in.session_of(token) is not None, counts)
            tidy()
            self.assertEqual(Session.select().where(mine).exists(), counts)

    def test_invitations_and_jobs_go_once_their_time_is_over(self) -> None:
        actor = scene.project()
        projects.share(actor, f"{actor.project_id}@late.example", "viewer")
        mine = Invitation.project == actor.project_id
        Invitation.update(expires=now() - timedelta(seconds=1)).where(mine).execute()
        old, waiting = (jobs.begin(actor, "bill_pdf").id for _ in range(2))
        long_ago = now() - jobs.KEPT_FOR - timedelta(hours=1)
        Job.update(made=long_ago, state="done").where(Job.id == old).execute()
        Job.update(made=long_ago).where(Job.id == waiting).execute()
        tidy()
        self.assertFalse(Invitation.select().where(mine).exists())
        self.assertEqual([row.id for row in Job.select().where(Job.project == actor.project_id)], [waiting])
        worker.work_off()

    def test_a_file_goes_once_neither_a_drawing_nor_an_undo_can_want_it(self) -> None:
        actor = scene.project()
        scene.sheet(actor)
        mine = StoredFile.select().where(StoredFile.project == actor.project_id)
        drawing = Drawing.get(Drawing.project == actor.project_id)
        sheets.delete_drawing(actor, drawing.id)
        tidy()
        self.assertEqual(mine.count(), 1)  # undo brings the drawing back, and wants its file
        history.undo(actor)
        tidy()
        self.assertEqual(Drawing.select().where(Drawing.project == actor.project_id).count(), 1)
        sheets.delete_drawing(actor, Drawing.get(Drawing.project == actor.project_id).id)
        Change.delete().where(Change.project == actor.project_id).execute()
        tidy()
        self.assertEqual(
            (mine.count(), Project.get_or_none(Project.id == actor.project_id) is None), (0, False)
        )
