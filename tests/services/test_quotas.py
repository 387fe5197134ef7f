"""What a project holds is counted as it comes and goes, and has an end; nothing is half done when it is reached."""

from __future__ import annotations

from unittest.mock import patch

from sandscale.core.refusals import Refusal
from sandscale.services.keeping import history, quotas, tidying
from sandscale.services.measure.actions import elements
from sandscale.services.sheets import actions as sheets
from sandscale.services.sheets import bringing_in
from sandscale.store.models import Change, Drawing, Location, Project, StoredFile
from tests import scene
from tests.services.test_any_order import Walk


class Quotas(scene.DatabaseCase):
    def held(self, project: int) -> tuple[int, int]:
        row = Project.get_by_id(project)
        return row.rows_held, row.bytes_held

    def test_what_is_counted_by_the_way_is_what_is_there(self) -> None:
        walk = Walk(5)
        for _ in range(40):
            walk.step()
        by_the_way = self.held(walk.actor.project_id)
        quotas.count(walk.actor.project_id)
        self.assertEqual(by_the_way, self.held(walk.actor.project_id))
        copy = scene.taken_in(walk.actor.person_id, scene.file_of(walk.actor))
        self.assertEqual(self.held(copy.id)[0], by_the_way[0])

    def test_a_full_project_takes_no_more_and_goes_on_with_what_it_has(self) -> None:
        actor = scene.project()
        scene.location(actor, "First")
        rows = self.held(actor.project_id)[0]
        with (
            patch.object(quotas, "MOST_ROWS", rows),
            self.assertRaisesRegex(Refusal, "more than [0-9,]+ rows"),
        ):
            elements.add_location(actor, "Second")
        self.assertEqual(Location.select().where(Location.project == actor.project_id).count(), 1)
        content = scene.pdf()
        with patch.object(quotas, "MOST_BYTES", len(content) + 10):
            scene.sheet(actor)
            with self.assertRaisesRegex(Refusal, "The drawings of a project are"):
                bringing_in.add_drawing(actor, "S-2.pdf", content, scene.PRICE_DATE)
            self.assertEqual(self.held(actor.project_id)[1], len(content))
            # Its room is given back once nothing can want the file any more.
            sheets.delete_drawing(actor, Drawing.get(Drawing.project == actor.project_id).id)
            history.undo(actor)
            sheets.delete_drawing(actor, Drawing.get(Drawing.project == actor.project_id).id)
            Change.delete().where(Change.project == actor.project_id).execute()
            tidying.tidy()
            self.assertEqual(StoredFile.select().where(StoredFile.project == actor.project_id).count(), 0)
            self.assertEqual(self.held(actor.project_id)[1], 0)
            scene.sheet(actor)
