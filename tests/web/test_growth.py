"""What is asked of the database doesn't grow with how much there is: each list of a project is read, and each kind of
edit made, with as many statements where there is much as where there is little."""

from __future__ import annotations

from typing import Any
from unittest.mock import patch

from sandscale.services.bill import actions as bill
from sandscale.services.bill import adjustments
from sandscale.services.ground.routes import typicals
from sandscale.services.ground.trenches import actions as trenches
from sandscale.services.keeping.acting import Actor
from sandscale.services.measure.actions import elements
from sandscale.services.order import actions as ordering
from sandscale.services.prices import enquiries
from sandscale.store.database import database
from sandscale.store.models import BuildUp, BuildUpLine, DimensionLine, Item, Quote
from tests import scene
from tests.services.test_routes import ROAD
from tests.services.test_trenches import SEWER
from tests.web.test_routes import Browser, WebCase

LITTLE, MUCH = 2, 7
# What some lists can't be read without.
ASKED = {
    "bill/report": "?by=section,resource",
    "orders/needs": "?by=section",
    "tries": "?ref=item:{item}",
    "find": "?find=PF",
}
# Files, what is fetched from elsewhere, and what is held against something that isn't here.
OTHERWISE = ("issue/project.json", "surveys/feed", "bills/compared", "packages/compared")


class Growth(WebCase):
    def furnished(self, number: int) -> tuple[Actor, dict[str, int]]:
        """A project with so many of what its lists show, all of it moved by one price; and the ids of some."""
        actor = scene.project()
        place, stone = scene.location(actor), scene.resource(actor, "Stone", "material", "t", "12.00")
        for n in range(number):
            element = scene.id_of(elements.add_element(actor, place, f"PF{n}", "pad-footing", "", {}))
            for _ in range(number):
                line = scene.line(actor, element, "4", "1.80", "1.80", "0.50")
            elements.link_to_bill(actor, element)
            digger = scene.resource(actor, f"Digger {n}", "plant", "h", "40.00")
            rate = scene.build_up(
                actor, f"Rate {n}", "m³", [{"resource": stone, "quantity": "2"}, {"resource": digger}], "8"
            )
            adjustments.add_adjustment(actor, f"Risk {n}", "1", "work")
            enquiries.add_supplier(actor, {"name": f"Merchant {n}", "email": f"m{n}@test.example"})
            trenches.add_kind(actor, {**SEWER, "name": f"Sewer {n}"})
            typicals.add_typical(actor, {**ROAD, "name": f"Road {n}"})
        for item in list(Item.select().where((Item.project == actor.project_id) & (Item.unit == "m³"))):
            bill.change_item(actor, item.id, item.version, {"build_up": rate})
        for n in range(number):
            fields = {
                "description": f"By hand {n}",
                "unit": "m³",
                "typed_quantity": "3",
                "typed_reason": "sketch",
            }
            made = bill.add_item(actor, item.section_id, fields)
            built = BuildUp.get(BuildUp.name == f"Rate {n}", BuildUp.project == actor.project_id)
            bill.change_item(actor, scene.id_of(made), made.version or 1, {"build_up": built.id})
            ordering.order_resources(
                actor,
                [BuildUpLine.get(BuildUpLine.build_up == built, BuildUpLine.resource != stone).resource_id],
            )
        return actor, {"item": scene.id_of(made), "line": line, "rate": rate, "stone": stone}

    def asked(self, browser: Browser, method: str, path: str, body: Any = None) -> int:
        """How many statements the answer to a request takes."""
        pool = database.obj
        with patch.object(pool, "execute_sql", wraps=pool.execute_sql) as asked:
            answer = browser.send(method, path, body)
        self.assertEqual(answer.status_code, 200, f"{path}: {answer.text[:300]}")
        return asked.call_count

    def test_every_list_is_read_and_every_edit_made_with_as_many_statements_where_there_is_much(self) -> None:
        prefix, lists, counts = "/api/projects/<int:project_id>/", [], []
        for rule in self.app.url_map.iter_rules():
            path = rule.rule.removeprefix(prefix)
            if (
                rule.rule.startswith(prefix)
                and "GET" in rule.methods
                and "<" not in path
                and path not in OTHERWISE
            ):
                lists.append(path)
        self.assertGreater(len(lists), 30)
        for number in (LITTLE, MUCH):
            actor, ids = self.furnished(number)
            browser, home = self.browser(actor.person_id), f"/api/projects/{actor.project_id}"
            browser.send("GET", f"{home}/checks")  # what is made once, is made
            found = {
                path: self.asked(browser, "GET", f"{home}/{path}{ASKED.get(path, '').format(**ids)}")
                for path in sorted(lists)
            }
            quote, line = Quote.get(Quote.resource == ids["stone"]), DimensionLine.get_by_id(ids["line"])
            item, rate = Item.get_by_id(ids["item"]), BuildUp.get_by_id(ids["rate"])
            for path, row, fields in (
                (f"quotes/{quote.id}", quote, {"price": "13.50"}),
                (f"lines/{line.id}", line, {"length": "2.00"}),
                (f"items/{item.id}", item, {"typed_quantity": "4"}),
                (f"build-ups/{rate.id}", rate, {"output": "9"}),
            ):
                kind = path.partition("/")[0]
                found[f"PATCH {kind}"] = self.asked(
                    browser, "PATCH", f"{home}/{path}", {"version": row.version, **fields}
                )
            counts.append(found)
        little, much = counts
        grown = {path: (little[path], much[path]) for path in little if much[path] > little[path]}
        self.assertEqual(grown, {})
