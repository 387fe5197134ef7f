"""The ground stage over HTTP, as the interface goes: a file is looked at, put right and taken in; what looks wrong is
decided; an earthwork is laid, read in every way and billed; its proof is fetched."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any
from unittest.mock import patch

from PIL import Image

from sandscale.demo import site
from sandscale.formats import geojson, landxml, levels_csv
from sandscale.formats.level_file import LARGEST_FILE
from sandscale.services.bill import reading as bill_reading
from sandscale.services.keeping import worker
from sandscale.web.api import CSRF_HEADER
from tests import scene
from tests.services.test_ground import flat, square
from tests.web.test_routes import WebCase

BOX = [[x, y, None] for x, y in square(10, 30)]


class GroundOverHttp(WebCase):
    def setUp(self) -> None:
        super().setUp()
        self.actor = scene.project()
        self.place = scene.location(self.actor)
        self.owner = self.browser(self.actor.person_id)
        self.root = f"/api/projects/{self.actor.project_id}"

    def get(self, path: str, **query: Any) -> Any:
        answer = self.owner.send("GET", self.root + path, query_string=query)
        self.assertEqual(answer.status_code, 200, f"{path}: {answer.text[:300]}")
        return answer.json

    def write(self, path: str, body: Any = None, method: str = "POST") -> Any:
        answer = self.owner.send(method, self.root + path, body)
        self.assertIn(answer.status_code, (200, 201), f"{path}: {answer.text[:300]}")
        worker.work_off()
        return answer.json

    def upload(self, path: str, content: bytes | None, how: Any = None, name: str = "levels.csv") -> Any:
        form: dict[str, Any] = {} if content is None else {"file": (io.BytesIO(content), name)}
        if how is not None:
            form["how"] = how if isinstance(how, str) else json.dumps(how)
        return self.owner.client.post(self.root + path, data=form, headers={CSRF_HEADER: self.owner.token})

    def taken(self, content: bytes = b"", **how: Any) -> int:
        answer = self.upload("/surveys/file", content or flat(10), how)
        self.assertEqual(answer.status_code, 200, answer.text)
        worker.work_off()
        return int(answer.json["id"])

    def dug(self) -> tuple[int, int]:
        """A box of 400 m², a metre down, in flat ground; the surface and the earthwork."""
        self.taken()
        surface = self.get("/ground")["surfaces"][0]["id"]
        body = {"mark": "E1", "description": "Platform", "location": self.place, "ground": surface}
        work = self.write("/earthworks", body)["id"]
        self.write(f"/earthworks/{work}/formations", {"level": "9", "outline": BOX})
        return surface, work


class Levels(GroundOverHttp):
    def test_a_file_is_seen_before_anything_is_kept_and_read_as_it_was_put_right(self) -> None:
        content = flat(10)
        seen = self.upload("/surveys/read", content).json
        self.assertEqual((seen["ground"], seen["columns"][:3]), (81, ["east", "north", "level"]))
        self.assertEqual(self.get("/ground")["surveys"], [])
        columns = ["north", "east", "level"]
        seen = self.upload("/surveys/read", content, {"columns": columns}).json
        self.assertEqual((seen["columns"][:3], seen["ground"]), (columns, 81))
        survey = self.taken(b"E;N;Z\n1000;2000;30\n4000;2000;33\n1000;6000;36\n", unit="mm", level_unit="ft")
        view = self.get(f"/surveys/{survey}")
        self.assertEqual((view["unit"], view["level_unit"], view["bounds"]), ("mm", "ft", [1, 2, 4, 6]))
        first = self.get(f"/surveys/{survey}/levels", first=0, most=1)
        self.assertEqual(first["total"], 3)
        self.assertAlmostEqual(first["levels"][0]["level"], 30 * 0.3048)

    def test_what_cannot_be_read_is_said_and_nothing_is_kept(self) -> None:
        self.assert_refused(self.upload("/surveys/file", None), 422, "No file was sent.")
        self.assert_refused(self.upload("/surveys/file", b""), 409, "is empty")
        for how in ("{", "[]", "3", '{"columns": ["depth"]}', '{"unit": "mile"}', '{"more": 1}', "[" * 9_000):
            self.assert_refused(
                self.upload("/surveys/read", flat(10), how),
                422,
                "How the file is to be read can't be understood.",
            )
        self.assertEqual(self.upload("/surveys/file", b"x" * (LARGEST_FILE + 99_999)).status_code, 413)
        self.assertEqual(self.get("/ground")["surveys"], [])

    def test_doubts_are_decided_by_kind_and_place_and_taken_back(self) -> None:
        survey = self.taken(site.survey_file())
        view = self.get(f"/surveys/{survey}")
        self.assertEqual(view["number"], 569)
        spike = self.get(f"/surveys/{survey}/levels", only="spike")["levels"][0]
        body = {"kind": "spike", "does": "put right", "at": [spike["at"]], "level": "41.2"}
        self.write(f"/surveys/{survey}/decide", body)
        again = self.get(f"/surveys/{survey}/levels", first=spike["at"], most=1)["levels"][0]
        self.assertEqual((again["level"], again["decided"]), (41.2, "put right"))
        for kind in ("zero", "missing", "conflict", "spike"):
            self.write(f"/surveys/{survey}/decide", {"kind": kind, "does": "leave out"})
        self.assertEqual(self.get(f"/surveys/{survey}")["undecided"], 0)
        self.write(f"/surveys/{survey}/undecide", {"at": [spike["at"]]})
        self.write(f"/surveys/{survey}/undecide", {"kind": "spike"})
        self.assertGreater(self.get(f"/surveys/{survey}")["undecided"], 0)
        points = self.get(f"/surveys/{survey}/points")
        self.assertEqual(len(points["kinds"]), len(points["doubtful"]))
        wrong = {"kind": "spike", "does": "put right", "at": [spike["at"]], "level": "high"}
        self.assert_refused(
            self.owner.send("POST", f"{self.root}/surveys/{survey}/decide", wrong), 422, "high"
        )

    def test_typed_levels_are_changed_by_version(self) -> None:
        survey = self.write("/surveys", {"name": "Trial holes"})["id"]
        level = self.write(
            f"/surveys/{survey}/levels", {"east": "1", "north": "2*3", "level": "9.5", "code": "th"}
        )["id"]
        page = self.get(f"/surveys/{survey}/levels")["levels"][0]
        self.assertEqual((page["id"], page["entries"], page["north"]), (level, ["1", "2*3", "9.5"], 6))
        self.write(f"/levels/{level}", {"version": 1, "level": "9.6"}, "PATCH")
        stale = self.owner.send("PATCH", f"{self.root}/levels/{level}", {"version": 1, "level": "9.7"})
        self.assertEqual(stale.status_code, 409)
        self.write(f"/levels/{level}", method="DELETE")
        self.assertEqual(self.get(f"/surveys/{survey}/levels")["total"], 0)
        self.write(f"/surveys/{survey}", method="DELETE")
        self.assertEqual(self.get("/ground")["surveys"], [])

    def test_pasted_rows_and_a_feed_that_is_not_there(self) -> None:
        rows = {"text": "0\t0\t1\n5\t0\t2\n0\t5\t3\n", "name": "From the book"}
        self.assertEqual(self.write("/surveys/pasted/read", rows)["ground"], 3)
        survey = self.write("/surveys/pasted", {**rows, "surface": False})["id"]
        self.assertEqual(self.get(f"/surveys/{survey}")["name"], "From the book")
        self.assertEqual(self.get("/ground")["surfaces"], [])
        with patch.dict("os.environ", {"SANDSCALE_SURVEY_FEED": ""}):
            self.assertEqual(self.get("/surveys/feed"), [])
            answer = self.owner.send("POST", f"{self.root}/surveys/feed", {"name": "stockpile-001.csv"})
            self.assert_refused(answer, 422, "no such file")


class Surfaces(GroundOverHttp):
    def test_it_is_seen_bounded_and_goes_out_in_every_format(self) -> None:
        self.taken(flat(10, hump=2))
        surface = self.get("/ground")["surfaces"][0]["id"]
        picture = self.owner.send("GET", f"{self.root}/surfaces/{surface}/relief.png")
        self.assertIn("private", picture.headers["Cache-Control"])
        with Image.open(io.BytesIO(picture.data)) as image:
            self.assertEqual(max(image.size), 1600)
        contours = self.get(f"/surfaces/{surface}/contours", interval=1)
        self.assertEqual({c["level"] for c in contours["contours"]} - {10, 12}, {11})
        self.assertEqual(self.get(f"/surfaces/{surface}/level", east=20, north=20), 12)
        self.assertIsNone(self.get(f"/surfaces/{surface}/level", east=-5, north=20))
        profile = self.write(f"/surfaces/{surface}/profile", {"line": [[0, 20], [40, 20]]})
        self.assertAlmostEqual(max(v for v in profile["levels"] if v is not None), 12)
        line = self.write(f"/surfaces/{surface}/lines", {"kind": "boundary", "corners": BOX})["id"]
        self.assertAlmostEqual(self.get(f"/surfaces/{surface}")["plan_area"], 400)
        near = self.get(f"/surfaces/{surface}/near", west=0, south=0, east=12, north=12)
        self.assertLess(len(near["triangles"]), self.get(f"/surfaces/{surface}")["triangles"])
        for kind, reads in (
            ("csv", levels_csv.read_levels), ("landxml", landxml.read_landxml), ("geojson", geojson.read_levels),
        ):  # fmt: skip
            file = self.owner.send("GET", f"{self.root}/surfaces/{surface}/file/{kind}")
            self.assertEqual(file.status_code, 200, file.text[:200])
            self.assertIn("attachment", file.headers["Content-Disposition"])
            self.assertTrue(reads(file.data, f"ground.{kind}"))
        dxf = self.owner.send("GET", f"{self.root}/surfaces/{surface}/file/dxf")
        self.assertIn(b"3DFACE", dxf.data)
        self.assertEqual(self.owner.send("GET", f"{self.root}/surfaces/{surface}/file/docx").status_code, 422)
        self.write(f"/ground-lines/{line}", method="DELETE")
        self.assertAlmostEqual(self.get(f"/surfaces/{surface}")["plan_area"], 1600)


class Earthworks(GroundOverHttp):
    def test_it_is_read_in_every_way_and_billed(self) -> None:
        _, work = self.dug()
        view = self.get(f"/earthworks/{work}")
        self.assertEqual([round(m["cut"], 6) for m in view["methods"]], [400] * 4)
        self.write(f"/earthworks/{work}", {"version": view["version"], "spacing": "5", "lorry": "8"}, "PATCH")
        rows = self.get(f"/earthworks/{work}/rows")["rows"]
        section = self.get(f"/earthworks/{work}/rows/{len(rows) // 2}")
        self.assertAlmostEqual(section["cut"], 20)
        self.assertEqual({line["key"] for line in section["lines"]} >= {"ground", "formation"}, True)
        self.assertEqual(
            self.owner.send("GET", f"{self.root}/earthworks/{work}/rows/{len(rows)}").status_code, 422
        )
        blocks = self.get(f"/earthworks/{work}/blocks")["blocks"]
        self.assertAlmostEqual(sum(b["volume"] for b in blocks), 400)
        across = self.write(f"/earthworks/{work}/across", {"line": [[0, 20], [40, 20]]})
        self.assertAlmostEqual(across["cut"], 20, delta=0.2)
        self.assertTrue(self.get(f"/earthworks/{work}/map")["cut"])
        balance = self.get(f"/earthworks/{work}/balance")
        self.assertAlmostEqual(balance["level"], 10, places=2)
        stage = {"name": "West", "outline": [[0, 0], [20, 0], [20, 40], [0, 40]]}
        self.write(f"/earthworks/{work}/stages", stage)
        self.write(f"/earthworks/{work}/classes", {"name": "Topsoil", "depth": "0.2"})
        self.write(f"/earthworks/{work}/into-bill", {"split": "stage"})
        items = [i for s in bill_reading.bill_view(self.actor).sections for i in s.items]
        told = {i.description: float(i.quantity or 0) for i in items}
        west = [quantity for words, quantity in told.items() if "West" in words]
        self.assertTrue(any(abs(quantity - 160) < 1e-6 for quantity in west), told)

    def test_rows_of_a_form_are_changed_by_version_and_deleted(self) -> None:
        _, work = self.dug()
        for part, one, path in (
            ("formations", {"name": "Upper", "level": "9.5", "outline": BOX}, "formations"),
            ("classes", {"name": "Rock", "taken": "dug", "depth": "0.3"}, "earth-classes"),
            ("stages", {"name": "East", "outline": BOX}, "earth-stages"),
        ):
            made = self.write(f"/earthworks/{work}/{part}", one)["id"]
            self.write(f"/{path}/{made}", {"version": 1, "name": "Other"}, "PATCH")
            named = [row["name"] for row in self.get(f"/earthworks/{work}")[part]]
            self.assertIn("Other", named)
            stale = self.owner.send("PATCH", f"{self.root}/{path}/{made}", {"version": 1, "name": "Third"})
            self.assertEqual(stale.status_code, 409, part)
            self.write(f"/{path}/{made}", method="DELETE")
            self.assertNotIn("Other", [row["name"] for row in self.get(f"/earthworks/{work}")[part]])
            gone = self.owner.send("DELETE", f"{self.root}/{path}/{made}")
            self.assertEqual(gone.status_code, 404, part)

    def test_the_proof_is_made_by_a_job_and_fetched(self) -> None:
        _, work = self.dug()
        asked = {"kind": "ground_proof", "element": work, "parts": ["plan", "volumes"], "per_page": 2}
        job = self.write("/jobs", asked)["id"]
        self.assertEqual(self.get(f"/jobs/{job}")["state"], "done")
        file = self.owner.send("GET", f"{self.root}/jobs/{job}/file")
        names = zipfile.ZipFile(io.BytesIO(file.data)).namelist()
        self.assertEqual(sorted(n.rsplit(".", 1)[-1] for n in names), ["dxf", "pdf", "xlsx"])
        nothing = self.owner.send("POST", f"{self.root}/jobs", {"kind": "ground_proof"})
        self.assertEqual(nothing.status_code, 422)
        stranger = self.browser(scene.person())
        self.assertEqual(stranger.send("GET", f"{self.root}/jobs/{job}/file").status_code, 404)
