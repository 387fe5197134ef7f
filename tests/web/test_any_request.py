"""Whatever is sent to any route, the server answers; it never fails, and the project stays whole.

Bodies are made from the API's own document: each field in turn is given what nobody should send.
"""

from __future__ import annotations

import json
import os
import re
from collections.abc import Iterator
from decimal import Decimal
from pathlib import Path
from typing import Any
from unittest.mock import patch

from sandscale.services.bars import actions as bars
from sandscale.services.bars import cuttings, rules
from sandscale.services.bill import actions as bill
from sandscale.services.bill import adjustments, bills, composing
from sandscale.services.bill.reading import own_bill
from sandscale.services.ground.actions import earthworks, surfaces, surveys
from sandscale.services.ground.routes import actions as routes
from sandscale.services.ground.routes import typicals
from sandscale.services.ground.trenches import actions as trenches
from sandscale.services.ground.trenches import laying
from sandscale.services.issue import forms, live, packages
from sandscale.services.keeping import jobs, worker
from sandscale.services.keeping.acting import Actor
from sandscale.services.measure.actions import makeups
from sandscale.services.order import actions as ordering
from sandscale.services.prices import enquiries
from sandscale.services.rates import actions as rates
from sandscale.services.rates import bands
from sandscale.services.rates import sizes as reference_sizes
from sandscale.services.sheets import actions as sheets
from sandscale.services.sheets import bringing_in
from sandscale.services.shelves import actions as shelves
from sandscale.services.trials import actions as trials
from sandscale.services.trials.reading import Value
from sandscale.settings import MAIL
from sandscale.store.models import (
    PROJECT_TABLES,
    Adjustment,
    Answer,
    BuildUp,
    BuildUpLine,
    Change,
    ChangedPlace,
    DimensionLine,
    Drawing,
    Element,
    EnquiryLine,
    Figure,
    GroundSurface,
    IssuedPackage,
    Item,
    ItemLink,
    Location,
    OrderLine,
    Project,
    Quote,
    Resource,
    Section,
    TrenchNode,
    TrenchRun,
    TrialChange,
    TypedBar,
    now,
)
from tests import scene
from tests.core.test_makeups import SOURCE
from tests.services.test_any_order import worked_out
from tests.services.test_bars import OWN
from tests.services.test_packages import own_form
from tests.web.test_routes import WebCase

API = json.loads((Path(__file__).parents[2] / "docs/openapi.json").read_text("utf-8"))
# One in so many cases is tried; another every time a case is added. All of them on demand.
EVERY = 1 if os.environ.get("SANDSCALE_WHOLE") else 6
WRONG: tuple[Any, ...] = (
    None, True, 0, -1, 10**30, 2**31, 1.5e308, float("nan"), float("inf"), [], {}, [[]], [{"x": 1}], [None], "", " ", "\x00", "x" * 3000, "9" * 400,
    "1e400", "nan", "-1", "0", "1/0", "9**9**9**9", "(" * 300, "=1+1", "a\nb\t", "١٢", "👷" * 200, "%s %(x)s {0}", "'; drop table item; --", "../../etc/passwd", "\ud800",
)  # fmt: skip
FAR = (0, 999_999_999, 2**31, 2**63, 10**30)
READABLE = (
    "", "/ground", "/bill", "/checks", "/history", "/locations", "/resources", "/enquiries", "/suppliers", "/build-ups", "/makeups", "/drawings",
)  # fmt: skip


def answer_to(actor: Actor, line: int) -> int:
    """An answer to a line of an enquiry, as the price desk would tell it."""
    row = EnquiryLine.get_by_id(line)
    told = {
        "email": "q@test.example", "line": line, "price": Decimal(5), "unit": "bag 25 kg", "least": None,
        "quoted_on": scene.PRICE_DATE, "valid_to": None, "came_on": scene.PRICE_DATE, "source": "Q-1",
    }  # fmt: skip
    with patch.dict(os.environ, {MAIL: "smtp://127.0.0.1:9"}), patch.object(enquiries.jobs, "begin"):
        enquiries.send_enquiry(actor, row.enquiry_id)
    with patch.object(enquiries, "answers_to", return_value=([told], 0)):
        enquiries.fetch_answers(actor, row.enquiry_id)
    return int(Answer.get(Answer.enquiry == row.enquiry_id).id)


class AnyRequest(WebCase):
    def furnished(self) -> tuple[Actor, dict[str, Any]]:
        """A project with a row of every kind, and their ids by the names that paths and bodies use."""
        actor = scene.project()
        made = scene.priced(actor)
        sheet = scene.sheet(actor)
        slab = scene.element(actor, "GS1", "plain-area")
        figure = scene.area(actor, sheet.id, slab, [(100, 100), (300, 100), (300, 300), (100, 300)])
        adjustments.add_adjustment(actor, "Risk", "3", "work")
        own = scene.id_of(makeups.add_makeup(actor, SOURCE))
        shelf = shelves.add_shelf(actor.person_id, "Roads", "").id
        area = scene.id_of(
            sheets.add_scale_area(actor, sheet.id, [(600, 600), (700, 600), (700, 700), (600, 700)], "20")
        )

        place = scene.location(actor, "Chamber")
        chamber = scene.id_of(bars.add_member(actor, place, "VC1"))
        bar = scene.id_of(bars.add_bar(actor, chamber, {"size": "12", "legs": {"A": "2000"}}))
        cutting = scene.id_of(cuttings.add_cutting(actor, "All bars", [chamber]))
        bars_of = {
            "bar": bar, "cutting": cutting, "detailing": scene.id_of(rules.add_detailing(actor, OWN)),
            "offcut": scene.id_of(cuttings.add_offcut(actor, cutting, "12", "3")),
        }  # fmt: skip

        survey = scene.id_of(surveys.add_survey(actor, "Spots", sheet.id))
        level = scene.id_of(surveys.add_level(actor, survey, {"east": "0", "north": "0", "level": "1"}))
        for east, north in (("9", "0"), ("0", "9"), ("9", "9")):
            surveys.add_level(actor, survey, {"east": east, "north": north, "level": "2"})
        surface = GroundSurface.get(GroundSurface.project == actor.project_id).id
        pit = scene.id_of(earthworks.add_earthwork(actor, "X1", "", place, surface))
        corners = [[1, 1], [8, 1], [8, 8]]
        ground = {
            "survey": survey, "level": level, "surface": surface, "ground": surface, "kind": "dxf",
            "ground_line": scene.id_of(surfaces.add_line(actor, surface, "hole", corners)),
            "formation": scene.id_of(earthworks.add_formation(actor, pit, {"level": "0.5", "outline": corners})),
            "earth_class": scene.id_of(earthworks.add_class(actor, pit, {"name": "Topsoil", "depth": "0.1"})),
            "earth_stage": scene.id_of(earthworks.add_stage(actor, pit, {"name": "A", "outline": corners})),
        }  # fmt: skip
        kind = trenches.add_kind(actor, {"name": "Sewer", "bore": "0.15", "bed": "0.1"}).id
        net = scene.id_of(trenches.add_network(actor, "X2", "", place, surface))
        laying.draw_runs(actor, net, [[1, 1], [8, 8], [8, 1]], kind)
        ground |= {
            "trench_kind": kind, "network": net, "node": TrenchNode.get(TrenchNode.project == actor.project_id).id,
            "run": TrenchRun.get(TrenchRun.project == actor.project_id).id,
        }  # fmt: skip
        road = {"name": "Road", "right": [{"name": "Lane", "width": "1"}]}
        way = scene.id_of(routes.add_route(actor, "X3", "", place, surface))
        routes.draw_centreline(actor, way, [[1, 5], [9, 5]])
        ground |= {
            "typical": scene.id_of(typicals.add_typical(actor, road)), "route": way, "part": "levels",
            "route_row": scene.id_of(routes.add_row(actor, way, "levels", {"chainage": "0", "level": "1"})),
        }  # fmt: skip
        firm = scene.id_of(enquiries.add_supplier(actor, {"name": "Quayside", "email": "q@test.example"}))
        asked = [scene.id_of(enquiries.add_enquiry(actor, [made["resource"]], [firm], {})) for _ in range(2)]
        lines = [EnquiryLine.get(EnquiryLine.enquiry == each).id for each in asked]
        ground |= {
            "supplier": firm, "enquiry": asked[1], "enquiry_line": lines[1], "answer": answer_to(actor, lines[0]),
        }  # fmt: skip
        walls = {"name": "Walls", "unit": "m²", "kind": "reference", "sized_in": "mm"}
        table = scene.id_of(rates.add_build_up(actor, walls))
        heights = scene.id_of(
            rates.add_build_up(actor, {"name": "By height", "unit": "m²", "kind": "banded", "sized_in": "m"})
        )
        ground["change"] = Change.select(Change.id).where(Change.project == actor.project_id).first().id
        ground["band"] = scene.id_of(bands.add_band(actor, heights, {"below": "2", "price": Decimal(9)}))
        ground["reference_size"] = scene.id_of(
            reference_sizes.add_size(actor, table, {"size": "150", "labour": Decimal(3)})
        )
        theirs = scene.id_of(bills.receive_bill(actor, "Theirs", scene.PRICE_DATE))
        part_of = scene.id_of(bill.add_section(actor, "Walls", bill_id=theirs))
        wall = scene.id_of(bill.add_item(actor, part_of, {"description": "Wall", "unit": "m³"}))
        ground |= {
            "bill": theirs, "bill_id": theirs, "into": own_bill(actor.project_id).id,
            "rate_part": scene.id_of(composing.add_part(actor, wall, made["rate"], "2")),
        }  # fmt: skip
        order = scene.id_of(ordering.order_resources(actor, [made["resource"]]))
        line = OrderLine.get(OrderLine.order == order).id
        ordering.send_order(actor, order)
        ground |= {
            "order": order, "order_id": order, "order_line": line,
            "delivery": scene.id_of(ordering.add_delivery(actor, line, "1", now().date())),
        }  # fmt: skip
        cover = scene.id_of(forms.add_form(actor, own_form(), "cover.xlsx"))
        packages.ask_for_package(actor, "Tender", {"bill": ["X84"]})
        worker.work_off()
        ground |= {
            "own_form": cover, "form_cell": scene.id_of(forms.tie_cell(actor, cover, "tender_sum", "bill")),
            "live_table": live.open_table(actor, "bill", "").id, "package": IssuedPackage.get(IssuedPackage.project == actor.project_id).id,
            "key": "x" * 43, "what": "bill",
            "trial": scene.id_of(trials.add_trial(actor, "Wider", [Value(f"line:{made['line']}", "width", "2")])),
            "trial_value": TrialChange.get(TrialChange.project == actor.project_id).id,
        }  # fmt: skip
        plan = scene.id_of(bringing_in.add_drawing(actor, "S-2.pdf", scene.plan("P"), scene.PRICE_DATE))
        bringing_in.ask_to_revise(actor, plan, "S-2.pdf", scene.plan("Q"), "")
        worker.work_off()
        place = ChangedPlace.get(ChangedPlace.project == actor.project_id)
        ground |= {"place": place.id, "revision": place.sheet.revision_id}

        def first(model: Any) -> int:
            return int(model.select().where(model.project == actor.project_id).order_by(model.id).first().id)

        ids = {
            "project_id": actor.project_id, "element": made["element"], "line": made["line"], "resource": made["resource"], "build_up": made["rate"],
            "item": made["item"], "sheet": sheet.id, "figure": figure, "makeup": own, "shelf": shelf, "area": area, "drawing": sheet.revision.drawing_id,
            "adjustment": first(Adjustment), "location": first(Location), "quote": first(Quote), "section": first(Section), "link": first(ItemLink),
            "job": 1, "form": "csv", "zoom": 0, "column": 0, "row": 0, "typed_bar": first(TypedBar), **bars_of, **ground,
        }  # fmt: skip
        return actor, ids

    def sample(self, schema: dict[str, Any], name: str, ids: dict[str, int]) -> Any:
        """A value a schema takes."""
        if ref := schema.get("$ref"):
            return self.sample(API["components"]["schemas"][ref.rsplit("/", 1)[1]], name, ids)
        if choices := schema.get("anyOf"):
            return self.sample(next(c for c in choices if c.get("type") != "null"), name, ids)
        if "enum" in schema or "const" in schema:
            return schema.get("const") or schema["enum"][0]
        kind = schema.get("type")
        if kind == "object" or "properties" in schema:
            return {key: self.sample(inner, key, ids) for key, inner in schema.get("properties", {}).items()}
        if kind == "array":
            return [
                self.sample(schema.get("items") or {"type": "number"}, name.removesuffix("s"), ids)
                for _ in range(max(schema.get("minItems", 1), 1))
            ]
        if kind in ("integer", "number"):
            return ids.get(name, 1)
        if kind == "boolean":
            return False
        return "2026-11-02" if schema.get("format") == "date" else "1"

    def spoilt(self, body: Any) -> Iterator[Any]:
        """The body with one place after the other given each wrong value; places within places too."""
        if isinstance(body, dict):
            for key in body:
                yield from ({**body, key: value} for value in WRONG)
                yield from (
                    {**body, key: inner}
                    for inner in self.spoilt(body[key])
                    if isinstance(body[key], dict | list)
                )
                yield {k: v for k, v in body.items() if k != key}
            yield {**body, "unheard_of": 1}
        elif isinstance(body, list) and body:
            yield from ([value, *body[1:]] for value in WRONG)
            yield body * 400

    def operations(self) -> Iterator[tuple[str, str, dict[str, Any]]]:
        for path, methods in API["paths"].items():
            for method, operation in methods.items():
                if not path.startswith("/api/session") and method != "delete":
                    yield method.upper(), path, operation

    def test_no_body_makes_the_server_fail_and_the_project_stays_whole(self) -> None:
        actor, ids = self.furnished()
        browser = self.browser(actor.person_id)
        sent, taken = 0, 0
        failed: list[str] = []
        for method, path, operation in self.operations():
            schema = (
                operation.get("requestBody", {}).get("content", {}).get("application/json", {}).get("schema")
            )
            if schema is None:
                continue
            address = re.sub(r"\{(\w+)\}", lambda match: str(ids[match[1]]), path)
            body = self.sample(schema, "", ids)
            for at, spoilt in enumerate((body, *WRONG, *self.spoilt(body))):
                if at and (at + sent) % EVERY:  # the first is what the schema asks for
                    sent += 1
                    continue
                answer = browser.send(method, address, spoilt)
                sent += 1
                taken += answer.status_code == 200
                if answer.status_code >= 500:
                    failed.append(f"{method} {path}: {json.dumps(spoilt)[:200]}")
                elif answer.status_code >= 400 and answer.status_code != 413:
                    # What a rule refuses says what is wrong; what only the database does, nothing.
                    said = answer.json["title"]
                    self.assertTrue(
                        said.strip() and not said.startswith("That doesn't fit"), f"{method} {path}"
                    )
        self.assertEqual(failed, [])
        self.assertGreater(sent, 5000)
        self.assertGreater(taken, 100 / EVERY)
        copy = scene.taken_in(scene.person(), scene.file_of(actor))
        self.assertEqual(worked_out(actor.project_id), worked_out(copy.id))
        for path in (*READABLE, f"/elements/{ids['element']}"):
            self.assertEqual(
                browser.send("GET", f"/api/projects/{actor.project_id}{path}").status_code, 200, path
            )

    def hidden(self, actor: Actor) -> None:
        """Give everything in a project a name that must be seen nowhere else."""
        for model, name in (
            (Project, "name"), (Element, "mark"), (Location, "name"), (Resource, "name"), (BuildUp, "name"), (Section, "title"),
            (Item, "description"), (Drawing, "number"), (Quote, "supplier"), (DimensionLine, "note"), (Adjustment, "name"),
        ):  # fmt: skip
            mine = (model.id if model is Project else model.project) == actor.project_id
            for row in model.select().where(mine):
                model.update(**{name: f"HIDDEN {row.id}"}).where(model.id == row.id).execute()

    def test_no_route_gives_anything_of_another_project_or_writes_in_it(self) -> None:
        actor, ids = self.furnished()
        other, theirs = self.furnished()
        self.hidden(other)
        before, person = scene.file_of(other), self.browser(actor.person_id)
        job = jobs.begin(other, "bill_pdf").id
        refs = [f"{kind}:{theirs[name]}" for kind, name in (
            ("line", "line"), ("figure", "figure"), ("item", "item"), ("item-quantity", "item"), ("build-up", "build_up"), ("resource", "resource"),
            ("quote", "quote"), ("section", "section"),
        )] + [f"quantity:{theirs['element']}:concrete"]  # fmt: skip
        tried = 0
        for path, methods in API["paths"].items():
            names = set(re.findall(r"\{(\w+)\}", path)) - {"project_id", "zoom", "column", "row"}
            for method, operation in methods.items():
                content = (
                    operation.get("requestBody", {})
                    .get("content", {})
                    .get("application/json", {})
                    .get("schema")
                )
                bodies = (
                    [None]
                    if content is None
                    else [self.sample(content, "", which) for which in (theirs, ids)]
                )
                for ref in refs if "ref" in names else [""]:
                    for body in bodies:
                        for mixed in (
                            {**theirs, "job": job},
                            ids,
                        ):  # their ids in the address, or in the body only
                            places = {**mixed, "project_id": actor.project_id, "ref": ref}
                            address = re.sub(r"\{(\w+)\}", lambda m, p=places: str(p.get(m[1], 1)), path)
                            if mixed is ids and (
                                body is not bodies[0]
                                or method == "delete"
                                or "/session" in path
                                or path.endswith("/delete")
                            ):
                                continue  # what one does to one's own project is tried elsewhere
                            answer = person.send(method.upper(), address, body)
                            tried += 1
                            self.assertNotIn(b"HIDDEN", answer.data, f"{method} {address}")
                            if (
                                names
                                and mixed is not ids
                                and "/shelves" not in path
                                and answer.data.strip() != b"[]"
                            ):
                                self.assertGreaterEqual(answer.status_code, 400, f"{method} {address} {body}")
        self.assertGreater(tried, 150)
        self.assertEqual(scene.file_of(other), before)
        scene.taken_in(actor.person_id, scene.file_of(actor))  # nothing in it refers to a row of the other
        for model in PROJECT_TABLES:
            for key in model._meta.refs:
                if key.rel_model in PROJECT_TABLES:
                    beyond = key.rel_model.alias()
                    astray = (
                        model.select()
                        .join(beyond, on=(key == beyond.id))
                        .where(model.project != beyond.project)
                    )
                    self.assertFalse(astray.exists(), f"{model.__name__}.{key.name}")

    def test_no_address_makes_the_server_fail(self) -> None:
        actor, ids = self.furnished()
        browser = self.browser(actor.person_id)
        words = (
            "bill",
            "line:0",
            f"line:{10**30}",
            "item-quantity:x",
            "quantity:1:concrete",
            f"quantity:{10**30}:concrete",
            ":",
            "%00",
            "quantity:1:" + "x" * 500,
        )
        for method, path, _operation in self.operations():
            if method != "GET" or path == "/api/projects/{project_id}/issue/project.json":
                continue
            for name in re.findall(r"\{(\w+)\}", path):
                for value in words if name == "ref" else FAR:
                    filled = {**ids, "ref": "bill", name: value}
                    address = re.sub(r"\{(\w+)\}", lambda match, filled=filled: str(filled[match[1]]), path)
                    answer = browser.send("GET", address)
                    self.assertLess(answer.status_code, 500, f"GET {address}")
        for find in ("", "%00", "(", "%25", "x" * 2000, "PF%20%20"):
            self.assertLess(
                browser.send(
                    "GET", f"/api/projects/{actor.project_id}/sheets/{ids['sheet']}/words?find={find}"
                ).status_code,
                500,
            )
        for method in ("PATCH", "DELETE"):
            for name, model in (
                ("line", DimensionLine),
                ("figure", Figure),
                ("item", Item),
                ("quote", Quote),
                ("section", Section),
                ("build-up-line", BuildUpLine),
            ):
                for value in FAR:
                    answer = browser.send(
                        method, f"/api/projects/{actor.project_id}/{name}s/{value}", {"version": 1}
                    )
                    self.assertIn(answer.status_code, (404, 409, 422), f"{method} {name} {value}")
                self.assertEqual(model.select().where(model.id == 0).count(), 0)
