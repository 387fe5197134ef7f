"""The application from outside: who gets in, what each role may do on every route, and how a refusal is answered."""

from __future__ import annotations

import io
import json
import re
from contextlib import nullcontext
from typing import Any
from unittest.mock import patch

from flask.testing import FlaskClient
from peewee import IntegrityError, OperationalError
from werkzeug.test import TestResponse

from sandscale.formats.apart import Busy
from sandscale.services.keeping.acting import Actor
from sandscale.services.measure.actions import makeups
from sandscale.services.people import signing_in
from sandscale.services.projects import reading as projects_reading
from sandscale.store.models import Change
from sandscale.web.api import COOKIE, CSRF_HEADER
from sandscale.web.app import create_app
from tests import scene
from tests.core.test_makeups import SOURCE


class Browser:
    """A browser at the application, signed in or not."""

    def __init__(self, client: FlaskClient, email: str = "") -> None:
        self.client, self.token = client, ""
        if email:
            answer = client.post("/api/session", json={"email": email, "password": scene.PASSWORD})
            assert answer.status_code == 200, answer.text
            self.token = answer.json["csrf_token"]

    def send(self, method: str, path: str, body: Any = None, **more: Any) -> TestResponse:
        headers = {CSRF_HEADER: self.token} if self.token else {}
        return self.client.open(path, method=method, json=body, headers=headers, **more)


class WebCase(scene.DatabaseCase):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.app = create_app()

    def browser(self, person: int | None = None) -> Browser:
        return Browser(self.app.test_client(), scene.email_of(person) if person else "")

    def assert_refused(self, answer: TestResponse, status: int, said: str) -> None:
        self.assertEqual(
            (answer.status_code, answer.mimetype), (status, "application/problem+json"), answer.text
        )
        self.assertIn(said, answer.json["title"])


class SigningIn(WebCase):
    def test_a_session_begins_is_used_and_ends(self) -> None:
        person = scene.person("Asta")
        browser = self.browser(person)
        self.assertEqual(browser.send("GET", "/api/session").json["person"]["name"], "Asta")
        self.assertEqual(browser.send("DELETE", "/api/session").status_code, 200)
        self.assert_refused(browser.send("GET", "/api/projects"), 401, "You are not signed in.")

    def test_the_cookie_is_out_of_reach_of_scripts_and_other_sites(self) -> None:
        person = scene.person()
        answer = self.app.test_client().post(
            "/api/session", json={"email": scene.email_of(person), "password": scene.PASSWORD}
        )
        cookie = answer.headers["Set-Cookie"]
        self.assertIn("HttpOnly", cookie)
        self.assertIn("SameSite=Strict", cookie)
        token = re.search(rf"{COOKIE}=([^;]+)", cookie)
        self.assertIsNotNone(token)
        self.assertIsNone(signing_in.session_of("x" + token[1]))  # type: ignore[index]

    def test_a_wrong_password_and_an_unknown_address_are_answered_alike(self) -> None:
        known = scene.email_of(scene.person())
        for email in (known, "nobody@test.example"):
            answer = self.browser().send(
                "POST", "/api/session", {"email": email, "password": "wrong-password"}
            )
            self.assert_refused(answer, 401, "That e-mail address and password don't go together.")

    def test_a_write_without_the_sessions_token_is_refused(self) -> None:
        actor = scene.project()
        browser = self.browser(actor.person_id)
        browser.token = ""
        path = f"/api/projects/{actor.project_id}/locations"
        self.assert_refused(
            browser.send("POST", path, {"name": "x"}), 403, "didn't come from the application"
        )
        browser.token = "guessed"
        self.assert_refused(
            browser.send("POST", path, {"name": "x"}), 403, "didn't come from the application"
        )


class EveryRoute(WebCase):
    """Each route of a project × owner, editor, viewer, stranger, nobody."""

    def routes(self) -> list[tuple[str, str]]:
        found = []
        for rule in self.app.url_map.iter_rules():
            if "<int:project_id>" in rule.rule:
                found += [(method, rule.rule) for method in sorted(rule.methods - {"HEAD", "OPTIONS"})]
        return found

    def path(self, rule: str, actor: Actor) -> str:
        rule = rule.replace("<int:project_id>", str(actor.project_id)).replace("<ref>", "bill")
        return re.sub(r"<int:\w+>", "999999999", rule)

    def test_strangers_and_nobody_reach_no_route_and_viewers_no_write(self) -> None:
        owner = scene.project()
        viewer, stranger, nobody = scene.member(owner, "viewer"), self.browser(scene.person()), self.browser()
        looking = self.browser(viewer.person_id)
        routes = self.routes()
        self.assertGreater(len(routes), 55)
        before = Change.select().where(Change.project == owner.project_id).count()
        for method, rule in routes:
            path = self.path(rule, owner)
            with self.subTest(f"{method} {rule}"):
                self.assert_refused(nobody.send(method, path, {}), 401, "You are not signed in.")
                self.assert_refused(
                    stranger.send(method, path, {}),
                    404,
                    "There is no such project, or it is not shared with you.",
                )
                if method != "GET" and not rule.endswith("/here"):  # a viewer may look
                    self.assertIn(looking.send(method, path, {}).status_code, (403, 404, 409, 422))
        self.assertEqual(Change.select().where(Change.project == owner.project_id).count(), before)

    def test_a_viewer_reads_everything_and_writes_nothing_that_exists(self) -> None:
        owner = scene.project()
        ids, sheet = scene.priced(owner), scene.sheet(owner)
        viewer = self.browser(scene.member(owner, "viewer").person_id)
        base = f"/api/projects/{owner.project_id}"
        for path in (
            "", "/drawings", f"/sheets/{sheet.id}", f"/sheets/{sheet.id}/tiles/0/0/0.png", "/locations", f"/elements/{ids['element']}", "/makeups", "/resources",
            "/build-ups", f"/build-ups/{ids['rate']}", "/bill", f"/items/{ids['item']}/links", "/walk/bill", "/history", f"/history/line:{ids['line']}", "/pulse", "/checks", f"/sheets/{sheet.id}/lines", f"/sheets/{sheet.id}/words?find=PF", "/issue/project.json",
        ):  # fmt: skip
            self.assertEqual(viewer.send("GET", base + path).status_code, 200, path)
        for method, path, body in (
            ("PATCH", f"/lines/{ids['line']}", {"version": 1, "width": "9"}), ("DELETE", f"/elements/{ids['element']}", None), ("POST", "/locations", {"name": "x"}),
            ("PUT", f"/sheets/{sheet.id}/scale/ratio", {"version": sheet.version, "ratio": "50"}), ("PATCH", f"/resources/{ids['resource']}", {"version": 1, "name": "x"}),
            ("PATCH", f"/build-ups/{ids['rate']}", {"version": 1, "output": "2"}), ("PATCH", f"/items/{ids['item']}", {"version": 9, "description": "x"}),
            ("POST", f"/elements/{ids['element']}/bill", {}), ("POST", "/people", {"email": "a@b.example", "role": "owner"}), ("POST", "/undo", None),
            ("PATCH", "", {"version": 1, "name": "x"}), ("POST", "/makeups", {"source": "x"}), ("POST", "/lines/replace", {"field": "width", "find": "1.80", "put": "2"}),
            ("POST", f"/elements/{ids['element']}/lines/block", {"lines": [{"line": ids["line"], "version": 1, "width": "9"}]}),
        ):  # fmt: skip
            self.assertIn(viewer.send(method, base + path, body).status_code, (403, 409), f"{method} {path}")

    def test_only_the_owner_lets_people_in(self) -> None:
        owner = scene.project()
        editor, guest = scene.member(owner, "editor"), scene.person()
        path, body = (
            f"/api/projects/{owner.project_id}/people",
            {"email": scene.email_of(guest), "role": "viewer"},
        )
        self.assert_refused(self.browser(editor.person_id).send("POST", path, body), 403, "Only the owner")
        self.assertEqual(self.browser(owner.person_id).send("POST", path, body).status_code, 200)
        guests = self.browser(guest)
        self.assertEqual(guests.send("GET", "/api/projects").json, [])
        (waiting,) = guests.send("GET", "/api/session/invitations").json
        taken = guests.send("POST", f"/api/session/invitations/{waiting['id']}")
        self.assertEqual([p["role"] for p in taken.json], ["viewer"])


class Refusals(WebCase):
    """Bad input gets a sentence, in one shape, and loses nothing."""

    def test_what_is_typed_wrong_is_answered_with_what_where_and_what_to_do(self) -> None:
        actor = scene.project()
        ids, sheet, bare = scene.priced(actor), scene.sheet(actor), scene.sheet(actor, ratio=None)
        slab = scene.element(actor, "GS1", "plain-area")
        scene.area(actor, sheet.id, slab, [(100, 100), (300, 100), (300, 300), (100, 300)])
        browser = self.browser(actor.person_id)
        line, figure = {"version": 1}, {"sheet": sheet.id, "element": slab, "kind": "area"}
        scale = {"version": bare.version}
        for method, path, body, status, field, said in (
            ("PATCH", f"/lines/{ids['line']}", {**line, "length": "abc"}, 422, "length", "“abc” can't be read as length."),
            ("PATCH", f"/lines/{ids['line']}", {**line, "length": "3m²"}, 422, "length", "“3m²” is an area (m²); length takes a length (m)."),
            ("PATCH", f"/lines/{ids['line']}", {**line, "height": "-0.5"}, 422, "height", "Height must be not below zero"),
            ("PATCH", f"/lines/{ids['line']}", {**line, "times": "two"}, 422, "times", "“two” can't be read as times."),
            ("PATCH", f"/lines/{ids['line']}", {**line, "depth": "1"}, 422, "depth", "Depth: extra inputs are not permitted."),
            ("PATCH", f"/lines/{ids['line']}", {**line, "note": "a\x00b"}, 422, "note", "Note: string should match pattern"),
            ("PATCH", f"/lines/{ids['line']}", {"length": "1"}, 422, "version", "Version: field required."),
            ("PATCH", f"/elements/{ids['element']}", {"version": 1, "inputs": {"blinding": "-50"}}, 422, "blinding", "Blinding must be not below zero; “-50” is below it."),
            ("PATCH", f"/elements/{ids['element']}", {"version": 1, "mark": " "}, 422, "mark", "An element needs a mark"),
            ("PUT", f"/sheets/{bare.id}/scale/ratio", {**scale, "ratio": "0"}, 422, "ratio", "A scale of 1:0 or less can't be measured at."),
            ("PUT", f"/sheets/{bare.id}/scale/ratio", {**scale, "ratio": "1:abc"}, 422, "scale", "“abc” can't be read as scale."),
            ("PUT", f"/sheets/{bare.id}/scale/length", {**scale, "first": [0, 0], "second": [1, 1], "length": "5.4"}, 422, "picks", "The two picks are too close"),
            ("PUT", f"/sheets/{bare.id}/scale/length", {**scale, "first": [0, 0], "second": [500, 0], "length": "-2"}, 422, "length", "must be above zero"),
            ("POST", "/figures", {**figure, "sheet": bare.id, "points": [[0, 0], [9, 9], [9, 0]]}, 422, "scale", "This sheet has no scale yet"),
            ("POST", "/figures", {**figure, "points": [[0, 0], [9, 9], [9, 0], [0, 9]]}, 422, "points", "crosses itself"),
            ("POST", "/voids", {"sheet": sheet.id, "element": slab, "points": [[500, 500], [600, 500], [600, 600]]}, 422, "points", "The void lies outside every area of GS1."),
            ("POST", "/voids", {"sheet": sheet.id, "element": ids["element"], "points": [[1, 1], [2, 1], [2, 2]]}, 422, "points", "on a sheet without an area of PF2"),
            ("DELETE", f"/resources/{ids['resource']}", None, 409, "", "Ready concrete is used in “Concrete in footings”."),
            ("POST", f"/build-ups/{ids['rate']}/lines", {"nested": ids["rate"]}, 422, "nested", "Rates use each other in a loop: Concrete in footings → Concrete in footings."),
            ("PATCH", f"/build-ups/{ids['rate']}", {"version": 1, "output": "0"}, 422, "output", "Output must be above zero."),
            ("POST", f"/items/{ids['item']}/links", {"element": ids["element"], "output": "bars"}, 409, "unit", "Bars in PF2 is in kg; an item in m³ can't take it."),
            ("POST", "/makeups", {"source": "key = "}, 422, "source", "The make-up can't be read"),
            ("POST", f"/resources/{ids['resource']}/quotes", {"supplier": "x", "price": "-1", "quoted_on": "2026-01-01"}, 422, "price", "can't be the price of a quote"),
            ("POST", f"/resources/{ids['resource']}/quotes", {"supplier": "x", "price": "1", "quoted_on": "2026-02-01", "valid_to": "2026-01-01"}, 422, "valid_to", "can't lapse before"),
            ("GET", "/walk/quantity:1", None, 404, "", "names no number of this project"),
            ("GET", "/walk/item:999999999", None, 404, "", "is not in this project any more"),
            ("GET", "/nowhere", None, 404, "", "There is nothing at"),
        ):  # fmt: skip
            with self.subTest(said):
                answer = browser.send(method, f"/api/projects/{actor.project_id}{path}", body)
                self.assert_refused(answer, status, said)
                self.assertEqual(answer.json["field"], field)
                self.assertNotIn("Traceback", answer.text)

    def test_what_fails_is_answered_with_its_own_status_and_how_long_to_wait(self) -> None:
        browser = self.browser(scene.person())
        for failure, status, says in (
            (OperationalError("gone"), 503, "The database can't be reached"), (IntegrityError("twice"), 409, "doesn't fit with what is there"),
            (ZeroDivisionError(), 500, "The server could not finish this"), (Busy("Many drawings are being read."), 503, "Many drawings"),
        ):  # fmt: skip
            with (
                patch.object(projects_reading, "projects_of", side_effect=failure),
                self.assertLogs("sandscale", "ERROR") if status in (409, 500) else nullcontext(),
            ):
                answer = browser.send("GET", "/api/projects")
            self.assert_refused(answer, status, says)
            self.assertEqual(answer.json["status"], status)
            self.assertEqual("Retry-After" in answer.headers, status == 503)
        self.assertEqual(browser.send("GET", "/api/projects").status_code, 200)

    def test_a_result_that_is_no_number_keeps_no_element_from_being_shown(self) -> None:
        actor = scene.project()
        source = SOURCE.replace(
            "thick * 0.3 * m", "thick * 0.3 * m / (thick - 150*mm) * (0*m) + thick * 0.3 * m"
        )
        source = source.replace(
            "times * length * section", "times * length * (section if thick > 160*mm else 0.045*m2)"
        )
        makeups.add_makeup(
            actor, source + '[outputs.purchase]\npack = "heap"\nholds = "m3 * (thick/mm - 151) ** 0.5"\n'
        )
        element = scene.element(actor, "K1", "kerb-bed")
        line = scene.line(actor, element, "1", "10")
        browser, base = self.browser(actor.person_id), f"/api/projects/{actor.project_id}"

        def refuse(constant: str) -> None:
            raise AssertionError(f"{constant} is no JSON, and no browser reads it")

        for path in (
            f"/elements/{element}",
            f"/walk/quantity:{element}:bed",
            f"/walk/line:{line}",
            "/checks",
            "/makeups",
            "/elements",
        ):
            answer = browser.send("GET", base + path)
            self.assertEqual(answer.status_code, 200, path)
            told = json.loads(answer.text, parse_constant=refuse)
        walked = browser.send("GET", f"{base}/walk/quantity:{element}:bed").json["working"]
        self.assertAlmostEqual(walked["value"], 0.45)
        self.assertIsNone(next(part["value"] for part in walked["parts"] if part["name"] == "Section"))
        self.assertTrue(told)

    def test_a_clash_carries_both_values(self) -> None:
        actor = scene.project()
        _, line = scene.pf2(actor)
        browser, path = self.browser(actor.person_id), f"/api/projects/{actor.project_id}/lines/{line}"
        self.assertEqual(browser.send("PATCH", path, {"version": 1, "width": "2.00"}).json["version"], 2)
        answer = browser.send("PATCH", path, {"version": 1, "width": "2.40"})
        self.assert_refused(answer, 409, "Test Person changed this dimension line while you were typing.")
        self.assertEqual(
            (answer.json["yours"], answer.json["theirs"], answer.json["version"]),
            ({"width": "2.40"}, {"width": "2.00"}, 2),
        )

    def test_uploads_that_cannot_be_taken(self) -> None:
        actor = scene.project()
        browser, path = self.browser(actor.person_id), f"/api/projects/{actor.project_id}/drawings"
        for content, said in (
            (b"hello", "“plan.pdf” is not a PDF, DXF, PNG, JPEG or TIFF."),
            (b"%PDF-1.7 broken", "“plan.pdf” is broken and can't be opened."),
        ):
            answer = browser.client.post(
                path, data={"file": (io.BytesIO(content), "plan.pdf")}, headers={CSRF_HEADER: browser.token}
            )
            self.assert_refused(answer, 422, said)
        self.assert_refused(
            browser.client.post(path, data={}, headers={CSRF_HEADER: browser.token}), 422, "No file was sent."
        )
        self.assertEqual(browser.send("GET", path).json, [])

    def test_a_request_larger_than_any_form_is_refused(self) -> None:
        actor = scene.project()
        answer = self.browser(actor.person_id).send(
            "POST", f"/api/projects/{actor.project_id}/locations", {"name": "x" * 5_000_000}
        )
        self.assertEqual(answer.status_code, 413)


class Answers(WebCase):
    def test_every_answer_is_hardened(self) -> None:
        for path in ("/api/session", "/api/nothing", "/projects"):
            headers = self.app.test_client().get(path).headers
            self.assertIn("script-src 'self'", headers["Content-Security-Policy"])
            self.assertIn("frame-ancestors 'none'", headers["Content-Security-Policy"])
            self.assertEqual(headers["X-Content-Type-Options"], "nosniff")

    def test_no_file_outside_the_front_end_is_served(self) -> None:
        for path in (
            "/../pyproject.toml",
            "/assets/../../package.json",
            "/%2e%2e/%2e%2e/pyproject.toml",
            "/..%2fpackage.json",
        ):
            answer = self.app.test_client().get(path)
            self.assertNotIn(b"[project]", answer.data)
            self.assertNotIn(b'"name": "sandscale"', answer.data)
        for long in ("/" + "x" * 400, "/assets/" + "x" * 400):  # longer than a file's name can be
            self.assertLess(self.app.test_client().get(long).status_code, 500)

    def test_a_drawing_comes_in_is_scaled_and_shown(self) -> None:
        actor = scene.project()
        browser, base = self.browser(actor.person_id), f"/api/projects/{actor.project_id}"
        form = {"file": (io.BytesIO(scene.pdf(2)), "C:\\plans\\S 1.pdf")}
        self.assertEqual(
            browser.client.post(
                f"{base}/drawings", data=form, headers={CSRF_HEADER: browser.token}
            ).status_code,
            200,
        )
        drawing = browser.send("GET", f"{base}/drawings").json[0]
        self.assertEqual([s["ratio"] for s in drawing["sheets"]], [None, None])
        sheet = drawing["sheets"][0]
        known = {
            "version": 1,
            "first": [100, 100],
            "second": [100 + 5.3848 / 0.0254 * 72 / 50, 100],
            "length": "17'-8\"",
        }
        self.assertEqual(
            browser.send("PUT", f"{base}/sheets/{sheet['id']}/scale/length", known).status_code, 200
        )
        self.assertAlmostEqual(browser.send("GET", f"{base}/sheets/{sheet['id']}").json["ratio"], 50)
        tile = browser.send("GET", f"{base}/sheets/{sheet['id']}/tiles/2/0/0.png")
        self.assertEqual((tile.mimetype, tile.data[:8]), ("image/png", b"\x89PNG\r\n\x1a\n"))
