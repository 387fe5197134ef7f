"""Level files and feeds with something wrong in them, and an earthwork changed in any order: refused in words, or taken
in so that what it comes to is what the same comes to afresh."""

from __future__ import annotations

import json
import os
import random
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from threading import Thread
from unittest.mock import patch

import numpy as np

from sandscale.core.ground.surface import surface
from sandscale.core.refusals import Refusal
from sandscale.demo import site
from sandscale.formats import dxf, geojson, landxml
from sandscale.formats.levels_in import How
from sandscale.services.ground import feed
from sandscale.services.ground.actions import earthworks, surfaces, surveys
from sandscale.services.ground.reading import levels as level_reading
from sandscale.services.ground.reading.overview import ground_view
from sandscale.services.keeping import history, worker
from sandscale.services.keeping.acting import Actor
from sandscale.settings import SURVEY_FEED
from sandscale.store.models import EarthClass, EarthStage, Earthwork, Element, Formation, Survey
from tests import scene
from tests.services.test_ground import GroundCase, flat, square

_WHOLE = os.environ.get("SANDSCALE_WHOLE")


class AnyFile(GroundCase):
    """Files as surveyors send them, spoilt byte by byte."""

    TRIALS = 60 if _WHOLE else 14

    def good(self) -> Iterator[tuple[str, bytes]]:
        grid = np.array([[x, y, 10 + x / 7] for x in range(0, 30, 5) for y in range(0, 30, 5)], dtype=float)
        made = surface(grid)
        yield "site.csv", site.survey_file()
        yield "flat.csv", flat(10)
        yield "site.dxf", dxf.write_dxf(lines={"edge": [grid[:4]], "ground": [grid]})
        yield "site.xml", landxml.write_landxml({"Ground": made})
        yield "site.geojson", geojson.write_geojson(surfaces={"Ground": made})

    def test_it_is_refused_in_words_or_taken_in_as_it_was_shown(self) -> None:
        dice, taken = random.Random(27), 0
        for name, content in self.good():
            for trial in range(self.TRIALS):
                bad = bytearray(content)
                for _ in range(dice.choice((1, 1, 3, 40))):
                    at = dice.randrange(max(1, len(bad)))
                    what = dice.randrange(4)
                    if what == 0:
                        bad[at : at + 1] = bytes([dice.randrange(256)])
                    elif what == 1:
                        bad[at : at + dice.randrange(1, 60)] = b""
                    elif what == 2:
                        bad[at:at] = dice.choice(
                            (b"\x00", b"1e400", b";;", b"\n", b"-", b"nan", b"<!DOCTYPE x>", b"\xff\xfe")
                        )
                    else:
                        bad = bad[: max(1, at)]
                with self.subTest(name, trial=trial):
                    before = Survey.select().where(Survey.project == self.actor.project_id).count()
                    try:
                        seen = level_reading.seen_view(
                            surveys.read_file(self.actor, name, bytes(bad), How()), How()
                        )
                        survey = scene.id_of(surveys.take_in(self.actor, name, bytes(bad), How()))
                    except Refusal as refusal:
                        self.assertRegex(str(refusal), r"\w.*[.?]$")
                        after = Survey.select().where(Survey.project == self.actor.project_id).count()
                        self.assertEqual(after, before)
                    else:
                        taken += 1
                        worker.work_off()
                        lines = level_reading.points_view(self.actor, survey).lines
                        corners = sum(corner[2] is not None for line in lines for corner in line.corners)
                        self.assertEqual(
                            level_reading.survey_view(self.actor, survey).number + corners, seen.ground
                        )
        self.assertGreater(taken, self.TRIALS)


@contextmanager
def saying(answer: Callable[[str], bytes | None]) -> Iterator[str]:
    """A feed that says what it is told to; None: it hangs up."""

    class Page(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            body = answer(self.path)
            if body is None:
                return self.connection.close()
            self.send_response(200)
            self.end_headers()
            self.wfile.write(body)
            return None

        def log_message(self, *_: object) -> None:
            """Say nothing."""

    server = ThreadingHTTPServer(("127.0.0.1", 0), Page)
    Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield f"http://127.0.0.1:{server.server_address[1]}"
    finally:
        server.shutdown()
        server.server_close()


class AnyFeed(GroundCase):
    def listed(self, answer: bytes | None) -> list[str]:
        with saying(lambda _: answer) as address, patch.dict("os.environ", {SURVEY_FEED: address}):
            return [each.name for each in feed.deliveries(self.actor)]

    def test_a_list_that_is_none_is_said_and_names_that_lead_away_are_not_shown(self) -> None:
        for answer in (
            b"", b"{}", b"3", b"null", b"[3]", b"[{}]", b"\xff\xfe", b"<html>", b"[" * 5_000, b'[{"name": "a.csv"}]',
            b'[{"name": "a.csv", "made": "yesterday", "size": 1}]', b'[{"name": "a.csv", "made": "2026-11-02", "size": "x"}]',
        ):  # fmt: skip
            with self.subTest(answer[:40]), self.assertRaises(Refusal) as caught:
                self.listed(answer)
            self.assertEqual(caught.exception.sentence, "The survey feed says nothing that can be read.")
        with self.assertRaises(Refusal):
            self.listed(None)
        with self.assertRaises(Refusal) as caught:
            self.listed(b" " * (2 * 1024 * 1024))
        self.assertEqual(caught.exception.sentence, "The survey feed sent more than is taken.")
        told = [
            {"name": name, "made": "2026-11-02T10:00:00", "size": 9}
            for name in ("good.csv", "../etc/passwd", "a/b.csv", "", "x" * 500, "a\nb.csv", "?q", "file:///x")
        ]
        self.assertEqual(self.listed(json.dumps(told).encode()), ["good.csv"])
        many = [{"name": f"{n}.csv", "made": "2026-11-02", "size": 1} for n in range(1_000)]
        self.assertEqual(len(self.listed(json.dumps(many).encode())), 200)

    def test_what_it_sends_is_a_file_like_any(self) -> None:
        with (
            saying(lambda _: b"name,what\na,b\n") as address,
            patch.dict("os.environ", {SURVEY_FEED: address}),
        ):
            with self.assertRaises(Refusal):
                feed.take_delivery(self.actor, "good.csv", How(), "m", "m", surface=True)
            viewer = Actor(self.actor.person_id, self.actor.project_id, "viewer")
            with self.assertRaises(Refusal):
                feed.read_delivery(viewer, "good.csv", How())
        self.assertEqual(ground_view(self.actor).surveys, [])


class AnyOrder(GroundCase):
    """What an earthwork comes to doesn't depend on how it came to be what it is."""

    STEPS = 60 if _WHOLE else 22

    def of(self, actor: Actor) -> dict[str, object]:
        worker.work_off()
        row = Element.get((Element.project == actor.project_id) & (Element.mark == "E1"))
        return {
            "quantities": sorted((q.output, round(q.net, 6)) for q in row.quantities),
            "findings": sorted(str(says) for _, says, *_ in row.findings),
        }

    def test_changed_undone_and_taken_in_elsewhere_it_comes_to_the_same(self) -> None:
        self.taken(flat(10, hump=1.5))
        self.taken(flat(9.5), "lower.csv")
        ground, lower = self.surface("levels"), self.surface("lower")
        work = self.dug({"level": "9", "outline": square(10, 30), "cut_batter": "1:1"})
        dice = random.Random(2026)
        seen = [self.of(self.actor)]
        for _ in range(self.STEPS):
            self.step(dice, work, ground, lower)
            seen.append(self.of(self.actor))
        afresh = scene.taken_in(scene.person(), scene.file_of(self.actor))
        other = Actor(afresh.membership_set.get().person_id, afresh.id, "owner")
        self.assertEqual(self.of(other), seen[-1])
        for before in reversed(seen[:-1]):
            history.undo(self.actor)
            self.assertEqual(self.of(self.actor), before)
        for after in seen[1:]:
            history.redo(self.actor)
            self.assertEqual(self.of(self.actor), after)

    def step(self, dice: random.Random, work: int, ground: int, lower: int) -> None:
        own = Formation.project == self.actor.project_id
        formations = list(Formation.select().where(own).order_by(Formation.id))
        classes = list(EarthClass.select().where(EarthClass.project == self.actor.project_id))
        stages = list(EarthStage.select().where(EarthStage.project == self.actor.project_id))
        row = Earthwork.get(Earthwork.element == work)
        low = dice.randrange(2, 18)
        box = square(low, low + dice.randrange(4, 20))
        kind = dice.randrange(9)
        if kind == 0:
            earthworks.add_formation(
                self.actor, work, {"level": f"{dice.uniform(8, 10):.2f}", "outline": box}
            )
        elif kind == 1 and len(formations) > 1:
            earthworks.delete_formation(self.actor, dice.choice(formations).id)
        elif kind == 2:
            depth, taken = (
                f"{dice.uniform(0.1, 0.5):.2f}",
                dice.choice(("stripped", "dug", "below formation")),
            )
            earthworks.add_class(
                self.actor, work, {"name": f"C{row.version}-{len(classes)}", "depth": depth, "taken": taken}
            )
        elif kind == 3 and classes:
            one = dice.choice(classes)
            earthworks.change_class(self.actor, one.id, one.version, {"outline": [] if one.outline else box})
        elif kind == 4:
            earthworks.add_stage(self.actor, work, {"name": f"S{row.version}-{len(stages)}", "outline": box})
        elif kind == 5 and stages:
            earthworks.delete_stage(self.actor, dice.choice(stages).id)
        elif kind == 6:
            method = dice.choice(
                [m for m in ("exact", "square grid", "grid sections", "contour areas") if m != row.method]
            )
            earthworks.change_earthwork(self.actor, work, row.version, {"method": method})
        elif kind == 7:
            other = lower if row.ground_id == ground else ground
            earthworks.change_earthwork(self.actor, work, row.version, {"ground": other})
        else:
            surfaces.add_line(self.actor, ground, "hole", square(low, low + 1.5))
