"""Building the demonstration project through the same services a person uses."""

from __future__ import annotations

import math
import sys
from datetime import date
from decimal import Decimal
from itertools import pairwise
from pathlib import Path

from ..core.ground.route.centreline import through
from ..core.pricing.reference import PARTS
from ..formats.levels_in import How
from ..services.bars import actions as bars
from ..services.bars import cuttings
from ..services.bill import actions as bill
from ..services.bill import adjustments
from ..services.ground.actions import billing, earthworks, surfaces, surveys
from ..services.ground.reading.levels import level_page
from ..services.ground.routes import actions as routes
from ..services.ground.routes import typicals
from ..services.ground.trenches import actions as trenches
from ..services.keeping import slow
from ..services.keeping.acting import Actor
from ..services.keeping.files import keep_file
from ..services.keeping.upgrade import upgrade
from ..services.measure.actions import allowances, dimension_lines, elements, figures
from ..services.measure.actions.allowances import Draw
from ..services.people import accounts as people
from ..services.prices import actions as prices
from ..services.prices import enquiries, needs, working_out
from ..services.prices import reading as prices_reading
from ..services.projects import actions as projects
from ..services.rates import actions as rates
from ..services.rates import lines as rate_lines
from ..services.rates import sizes as reference_sizes
from ..services.sheets import actions as sheets
from ..services.sheets import bringing_in
from ..services.sheets.pages import pages_of
from ..store.database import connect, connected, database
from ..store.models import (
    Adjustment,
    BuildUp,
    Drawing,
    Element,
    GroundSurface,
    Item,
    Location,
    Membership,
    Person,
    Project,
    Resource,
    Revision,
    Sheet,
)
from . import bills, plan, site
from .drawings import foundation_drawing, on_site_sheet, road_drawing, services_drawing
from .prices import (
    ALLOWANCE,
    BUILD_UPS,
    DENSITIES,
    ENQUIRY,
    GANGS,
    NORMS,
    NORMS_ARE_OF,
    RATES_OF_ITEMS,
    READ,
    REFERENCES,
    RESOURCES,
    SUPPLIERS,
    WORKED,
)

NAME, CLIENT = "Ferrin Weir Pumping Station", "Marl Valley Water Board"
PASSWORD = "ferrin-weir-2026"
PEOPLE = (
    ("Asta Venn", "asta@sandhall.example", "owner"),
    ("Ilo Marsh", "ilo@sandhall.example", "editor"),
    ("Bram Tolly", "bram@marlvalley.example", "viewer"),
)
PRICE_DATE = date(2026, 11, 2)


def main() -> None:
    """Migrate the database, and load the demonstration unless it was loaded before; files to try it with
    go into the folder named, if one is.
    """
    connect()
    upgrade()
    with connected():
        if not Person.select().exists():
            with database.atomic():
                load()
    if sys.argv[1:]:
        _files(Path(sys.argv[1]))
    print(f"Demonstration sign-in: {PEOPLE[0][1]}  password: {PASSWORD}")


def _files(folder: Path) -> None:
    """What came after the demonstration began: the foundation plan in revision B, a client's workbook, a
    form, and the levels as they were surveyed."""
    folder.mkdir(parents=True, exist_ok=True)
    for name, content in (
        ("FW-S-101 B.pdf", foundation_drawing("B")), ("Client's bill.xlsx", bills.client_bill()),
        ("Form of tender.xlsx", bills.tender_form()), (site.FILE, site.survey_file()),
    ):  # fmt: skip
        (folder / name).write_bytes(content)
    print(f"Files to try it with are in {folder}")


def load() -> Project:
    """The people and the project; gives the project."""
    for name, email, _ in PEOPLE:
        people.add_person(name, email, PASSWORD, published=True)
    owner = Person.get(Person.email == PEOPLE[0][1])
    project = projects.new_project(owner.id, NAME, CLIENT, "EUR", PRICE_DATE)
    actor = Actor(owner.id, project.id, "owner")
    for _, email, role in PEOPLE[1:]:
        Membership.create(project=project, person=Person.get(Person.email == email), role=role)
    ground = bill.add_section(actor, "Ground investigation").id or 0
    _measure(actor, _drawings(actor))
    _outside(actor)
    _earthworks(actor)
    _rising_main(actor)
    _access_road(actor)
    _services(actor)
    _prices(actor)
    _rates(actor)
    _bill(actor, ground)
    _allowance(actor)
    _asked(actor)
    bills.load(actor)
    return project


def _drawings(actor: Actor) -> int:
    drawing = bringing_in.add_drawing(actor, "FW-S-101.pdf", foundation_drawing(), date(2026, 10, 5))
    sheets.change_drawing(actor, drawing.id or 0, 1, {"title": "Pump house, foundations"})
    found = list(
        Sheet.select().join(Revision).join(Drawing).where(Drawing.id == drawing.id).order_by(Sheet.page)
    )
    for sheet, title in zip(found, ("Foundation plan", "Sections A and B"), strict=True):
        sheets.rename_sheet(actor, sheet.id, 1, title)
    first, second = (plan.on_sheet((plan.GRID_X[name], plan.GRID_Y["C"])) for name in ("1", "2"))
    sheets.set_scale_by_length(actor, found[0].id, 2, first, second, "9.00")
    across, up = (plan.on_sheet((plan.GRID_X["4"], plan.GRID_Y[name])) for name in ("A", "C"))
    sheets.prove_scale(actor, found[0].id, 3, across, up, "14.40")
    sheets.place_totals(actor, found[0].id, 4, plan.on_sheet(plan.TOTALS_AT))
    sheets.set_scale_by_ratio(actor, found[1].id, 2, "1:20")
    return found[0].id


def _measure(actor: Actor, sheet: int) -> None:
    foundations = elements.add_location(actor, "Pump house, foundations").id or 0
    ground_floor = elements.add_location(actor, "Pump house, ground floor").id or 0
    for footing in plan.FOOTINGS:
        element = elements.add_element(actor, foundations, footing.mark, "pad-footing", "Pad footing").id or 0
        size = {
            "length": f"{footing.length:.2f}",
            "width": f"{footing.width:.2f}",
            "height": f"{footing.depth:.2f}",
        }
        line = dimension_lines.add_line(
            actor, element, {**size, "note": f"Grid {', '.join(f'{c[0]}/{c[1]}' for c in footing.at)}"}
        ).id
        figures.draw_figure(
            actor, sheet, element, "count", [plan.on_sheet(p) for p in footing.centres()], line
        )
        elements.link_to_bill(actor, element)
    beam = elements.add_element(actor, foundations, "GB1", "ground-beam", "Ground beam").id or 0
    line = dimension_lines.add_line(
        actor,
        beam,
        {
            "width": f"{plan.BEAM_WIDTH:.2f}",
            "height": f"{plan.BEAM_DEPTH:.2f}",
            "note": "All round, on the grid",
        },
    ).id
    figures.draw_figure(actor, sheet, beam, "loop", plan.ring_on_sheet(plan.BEAM), line)
    slab = (
        elements.add_element(
            actor,
            ground_floor,
            "GS1",
            "ground-slab",
            "Ground slab",
            {"main_spacing": "150", "cross_spacing": "150"},
        ).id
        or 0
    )
    line = dimension_lines.add_line(
        actor, slab, {"height": f"{plan.SLAB_THICK:.2f}", "note": "To outside of ground beams, sump ddt"}
    ).id
    figures.draw_figure(actor, sheet, slab, "area", plan.ring_on_sheet(plan.SLAB), line)
    figures.add_void(actor, sheet, slab, plan.ring_on_sheet(plan.SUMP))
    column = elements.add_element(actor, ground_floor, "C1", "column", "Column", {"carried": "250"}).id or 0
    size = {
        "length": f"{plan.COLUMN:.2f}",
        "width": f"{plan.COLUMN:.2f}",
        "height": f"{plan.COLUMN_HEIGHT:.2f}",
    }
    line = dimension_lines.add_line(
        actor, column, {**size, "note": "On every footing, to the underside of the roof slab"}
    ).id
    figures.draw_figure(
        actor,
        sheet,
        column,
        "count",
        [plan.on_sheet(p) for footing in plan.FOOTINGS for p in footing.centres()],
        line,
    )
    walls = elements.add_element(actor, ground_floor, "W1", "blockwork", "Outer walls").id or 0
    openings = (("2", "1.00", "2.10", "Doors D1"), ("6", "1.20", "1.20", "Windows F1"))
    dimension_lines.add_line(
        actor,
        walls,
        {"times": "2", "length": "26.60+14.00", "height": "3.60", "note": "Between columns, all round"},
    )
    lintels = elements.add_element(actor, ground_floor, "L1", "lintel", "Lintels over openings").id or 0
    for times, length, height, note in openings:
        dimension_lines.add_line(
            actor, walls, {"times": times, "length": length, "height": height, "note": note, "deduct": True}
        )
        dimension_lines.add_line(actor, lintels, {"times": times, "length": length, "note": note})
    roof_beams = (
        elements.add_element(actor, ground_floor, "RB1", "beam", "Roof beams", {"slab": "250"}).id or 0
    )
    size = {"times": "2", "length": "14.00", "width": "0.40", "height": "0.65"}
    dimension_lines.add_line(actor, roof_beams, {**size, "note": "On grids 2 and 3, between columns"})
    for element in (beam, slab, column, walls, lintels, roof_beams):
        elements.link_to_bill(actor, element)


def _outside(actor: Actor) -> None:
    """The retaining wall; and the valve chamber, whose bars stand in the engineer's schedule."""
    place = elements.add_location(actor, "Outside").id or 0
    inputs = {"drain": "0", "weep_spacing": "0", "membrane_used": "no"}
    wall = elements.add_element(actor, place, "RW1", "retaining-wall", "Retaining wall", inputs).id or 0
    size = {"length": "24.00", "height": "2.40"}
    dimension_lines.add_line(actor, wall, {**size, "note": "North of the pump house"})
    elements.link_to_bill(actor, wall)
    bars.add_bars(
        actor, [dict(zip(plan.CHAMBER_COLUMNS, row, strict=False)) for row in plan.CHAMBER_BARS], place
    )
    chamber = Element.get((Element.project == actor.project_id) & (Element.mark == "VC1"))
    elements.change_element(actor, chamber.id, 1, {"description": "Valve chamber, bars as scheduled"})
    elements.link_to_bill(actor, chamber.id)
    cuttings.add_cutting(actor, "All bars")


def _earthworks(actor: Actor) -> None:
    """The platform and the chamber's pit, from the survey as it came to the bill, its faults decided."""
    levels = surveys.take_in(actor, site.FILE, site.survey_file(), How())
    ground = GroundSurface.get(GroundSurface.project == actor.project_id)
    surfaces.change_surface(actor, ground.id, 1, {"name": "Ground"})
    for line in site.breaklines():
        surfaces.add_line(actor, ground.id, "breakline", line)
    surfaces.add_line(actor, ground.id, "boundary", site.BOUNDARY)
    slow.work_out_now(actor.project_id, ("levels",))
    for level in level_page(actor, levels.id or 0, 0, 50, "doubt").levels:
        if "zero" in level.doubts:
            surveys.decide(actor, levels.id or 0, "zero", "leave out", [level.at])
        elif set(level.doubts) & {"missing", "conflict"}:
            surveys.decide(actor, levels.id or 0, level.doubts[0], "leave out", [level.at])
        elif "spike" in level.doubts and (level.level or 0) < 10:
            surveys.decide(actor, levels.id or 0, "spike", "put right", [level.at], f"4{level.level:.3f}")
        elif "spike" in level.doubts:  # at the foot and the crest of the bank the ground does bend
            surveys.decide(actor, levels.id or 0, "spike", "keep", [level.at])
    place = Location.get((Location.project == actor.project_id) & (Location.name == "Outside")).id
    platform = earthworks.add_earthwork(actor, "E1", "Platform", place, ground.id).id or 0
    batters = {"cut_batter": "1:1.5", "fill_batter": "1:2"}
    shape = {"name": "Platform", "level": site.PLATFORM_LEVEL, "outline": site.PLATFORM, **batters}
    earthworks.add_formation(actor, platform, shape)
    earthworks.change_earthwork(actor, platform, 1, {"spacing": "8", "lorry": "12", "bands": "1; 2; 4"})
    earthworks.add_class(
        actor, platform, {"name": "Existing paving", "depth": "0.12", "outline": site.PAVING}
    )
    earthworks.add_class(actor, platform, {"name": "Topsoil", "depth": "0.15"})
    soft = {"name": "Unsuitable", "depth": "0.40", "outline": site.SOFT, "taken": "below formation"}
    earthworks.add_class(actor, platform, soft)
    for name, outline in site.STAGES:
        earthworks.add_stage(actor, platform, {"name": name, "outline": outline})
    pit = earthworks.add_earthwork(actor, "E2", "Valve chamber pit", place, ground.id).id or 0
    shape = {"name": "Pit", "level": site.CHAMBER_LEVEL, "outline": site.CHAMBER, "cut_batter": "2:1"}
    earthworks.add_formation(actor, pit, shape)
    earthworks.change_earthwork(actor, pit, 1, {"spacing": "2", "bands": "1; 2; 4"})
    earthworks.add_class(actor, pit, {"name": "Topsoil", "depth": "0.15"})
    slow.work_out_now(actor.project_id, ("levels", "surfaces", "quantities"))
    billing.into_bill(actor, platform, "band")
    billing.into_bill(actor, pit, "band")


def _rising_main(actor: Actor) -> None:
    """The rising main, 310 m from the valve chamber round the site, in two beds."""
    kind = trenches.add_kind(actor, site.RISING_MAIN).id or 0
    place = Location.get((Location.project == actor.project_id) & (Location.name == "Outside")).id
    ground = GroundSurface.get(GroundSurface.project == actor.project_id)
    main = trenches.add_network(actor, "T1", "Rising main", place, ground.id).id or 0
    inverts = []
    for name, east, north, manhole in site.MAIN:
        fields = {"name": name, "east": f"{east:g}", "north": f"{north:g}", "manhole": manhole}
        trenches.add_node(actor, main, fields)
        inverts.append(f"{site.level(east, north) - site.MAIN_DEPTH:.2f}")
    ends = [(*node, invert) for node, invert in zip(site.MAIN, inverts, strict=True)]
    for begin, end in pairwise(ends):
        run = {"begins": begin[0], "ends": end[0], "invert_begins": begin[-1], "invert_ends": end[-1]}
        stage = "West side" if end[1] < 2450 else "East side"
        trenches.add_run(actor, main, {**run, "kind": kind, "stage": stage})
    slow.work_out_now(actor.project_id, ("quantities",))
    billing.into_bill(actor, main, "band")


def _access_road(actor: Actor) -> None:
    """The access road, 240 m from its run on the drawing over the survey: two bends, widened inside them."""
    drawing = bringing_in.add_drawing(actor, "FW-C-201.pdf", road_drawing(), date(2026, 10, 12))
    sheets.change_drawing(actor, drawing.id or 0, 1, {"title": "Access road"})
    sheet = Sheet.select().join(Revision).where(Revision.drawing == drawing.id).get()
    sheets.rename_sheet(actor, sheet.id, 1, "Plan of the road")
    sheets.set_scale_by_ratio(actor, sheet.id, 2, "1:250")
    known = [[*on_site_sheet(place), f"{place[0]:g}", f"{place[1]:g}"] for place in site.CROSSES]
    tie = surveys.add_survey(actor, "Gate, off FW-C-201", sheet.id, known).id or 0
    for place in (site.ROAD[0], (site.ROAD[0][0], site.ROAD[0][1] - 3)):
        x, y = on_site_sheet(place)
        surveys.add_level(actor, tie, {"x": x, "y": y, "level": f"{site.level(*place):.2f}"})
    for made in GroundSurface.those(GroundSurface.project, [actor.project_id]):
        if made.name != "Ground":
            surfaces.delete_surface(actor, made.id)  # two levels make none
    place = Location.get((Location.project == actor.project_id) & (Location.name == "Outside")).id
    ground = GroundSurface.get(GroundSurface.project == actor.project_id)
    road = routes.add_route(actor, "R1", "Access road", place, ground.id).id or 0
    line = through(site.ROAD, site.ROAD_RADII)
    corners = [
        [*on_site_sheet(each.start), math.tan(each.length * each.curvature / 4)] for each in line.elements
    ]
    end = line.at([line.end])[0][0]
    figures.draw_figure(actor, sheet.id, road, "run", [*corners, list(on_site_sheet(tuple(end)))])
    kerbed, widened = (typicals.add_typical(actor, each).id or 0 for each in (site.KERBED, site.WIDENED))
    for chainage, level, curve in site.ROAD_LEVELS:
        routes.add_row(actor, road, "levels", {"chainage": chainage, "level": level, "curve": curve})
    for chainage, typical, taper in (("0", kerbed, ""), ("61", widened, "15"), ("181", kerbed, "15")):
        routes.add_row(actor, road, "changes", {"chainage": chainage, "taper": taper}, typical)
    for cells in site.ROAD_NAMES:
        routes.add_row(actor, road, "named", cells)
    for name, begins, ends in site.STRETCHES:
        routes.add_row(actor, road, "stretches", {"name": name, "begins": begins, "ends": ends})
    routes.change_route(actor, road, 2, {"interval": "20", "lorry": "12", "free": "50"})
    slow.work_out_now(actor.project_id, ("levels", "surfaces", "quantities"))
    billing.into_bill(actor, road)


def _services(actor: Actor) -> None:
    """The services' plan, which came as a DXF."""
    content, name = services_drawing(), "FW-C-301.dxf"
    media_type, pages = pages_of(content, name)
    file = keep_file(actor.project_id, name, media_type, content)
    drawing = bringing_in.bring_in(actor, file, pages, date(2026, 10, 19))
    sheets.change_drawing(actor, drawing.id or 0, 1, {"title": "Services"})
    sheet = Sheet.select().join(Revision).where(Revision.drawing == drawing.id).get()
    sheets.rename_sheet(actor, sheet.id, 1, "Services as laid out")


def _prices(actor: Actor) -> None:
    for name, kind, unit, basis, quotes in RESOURCES:
        resource = (
            prices.add_resource(actor, {"name": name, "kind": kind, "unit": unit, "basis": basis}).id or 0
        )
        for supplier, price, quoted_unit, contains, quoted_on, valid_to in quotes:
            fields = {
                "supplier": supplier, "price": Decimal(price), "unit": quoted_unit,
                "contains": Decimal(contains) if contains else None,
                "quoted_on": date.fromisoformat(quoted_on),
                "valid_to": date.fromisoformat(valid_to) if valid_to else None,
                "source": "Written quotation" if valid_to else "Office list",
            }  # fmt: skip
            prices.add_quote(actor, resource, fields)


def _asked(actor: Actor) -> None:
    """Densities and norms of resources, suppliers, and an enquiry that stands ready."""
    known = {row.name: row for row in Resource.select().where(Resource.project == actor.project_id)}
    for name, density, source in DENSITIES:
        row = known[name]
        prices.change_resource(actor, row.id, row.version, {"density": density, "density_source": source})
    for name, low, high in NORMS:
        norm = {"norm_low": Decimal(low), "norm_high": Decimal(high), "norm_source": NORMS_ARE_OF}
        prices.change_resource(actor, known[name].id, known[name].version, norm)
    for name, way, inputs, draws in WORKED:
        drawn = {key: known[source].id for key, source in draws.items()}
        working_out.change_worked(actor, known[name].id, known[name].version, way, inputs, drawn)
        prices.change_resource(actor, known[name].id, known[name].version + 1, {"basis": "worked"})
    asked = [
        enquiries.add_supplier(actor, {"name": name, "email": email}).id or 0 for name, email in SUPPLIERS
    ]
    title, wanted = ENQUIRY
    enquiries.add_enquiry(actor, [known[name].id for name in wanted], asked, {"title": title})


def _rates(actor: Actor) -> None:
    resources = {r.name: r.id for r in prices_reading.resources(actor)}
    made: dict[str, int] = {}
    for name, members in GANGS:
        made[name] = rates.add_build_up(actor, {"name": name, "heading": "Gangs", "kind": "gang"}).id or 0
        for member, number in members:
            rate_lines.add_build_up_line(
                actor, made[name], {"resource": resources[member], "quantity": number, "basis": "unit"}
            )
    for name, unit, heading, output, hours, lines in BUILD_UPS:
        made[name] = (
            rates.add_build_up(
                actor, {"name": name, "unit": unit, "heading": heading, "output": output, "hours": hours}
            ).id
            or 0
        )
        for source, quantity, allowance in lines:
            if source.startswith("%"):
                rate_lines.add_build_up_line(
                    actor, made[name], {"basis": "percent", "percent_of": source[1:], "quantity": quantity}
                )
                continue
            drawn = (
                {"nested": made[source[1:]]} if source.startswith("=") else {"resource": resources[source]}
            )
            rate_lines.add_build_up_line(
                actor, made[name], {**drawn, "quantity": quantity, "allowance": Decimal(allowance)}
            )
    for name, per, by, sized_in, source, year, sizes in REFERENCES:
        told = {"name": name, "unit": per, "heading": "References", "kind": "reference"}
        told |= {"sized_by": by, "sized_in": sized_in, "source": source, "year": year}
        made[name] = rates.add_build_up(actor, told).id or 0
        for size, *costs in sizes:
            parts = dict(zip(PARTS, map(Decimal, costs), strict=True))
            reference_sizes.add_size(actor, made[name], {"size": size, **parts})
    for name, per, heading, reference, size in READ:
        rate = rates.add_build_up(actor, {"name": name, "unit": per, "heading": heading}).id or 0
        rate_lines.add_build_up_line(actor, rate, {"nested": made[reference], "basis": "unit", "size": size})


def _bill(actor: Actor, ground: int) -> None:
    named = {b.name: b.id for b in BuildUp.select().where(BuildUp.project == actor.project_id)}
    for item in Item.select().where(Item.project == actor.project_id):
        rate = next(build_up for words, build_up in RATES_OF_ITEMS if item.description.startswith(words))
        bill.change_item(actor, item.id, item.version, {"build_up": named[rate]})
    pits = {
        "description": "Trial pits to prove the formation, 2 m deep",
        "unit": "nr",
        "typed_quantity": "3",
        "typed_reason": "Client's specification, clause 2.14",
    }
    bill.add_item(actor, ground, {**pits, "build_up": named["Trial pit to 2 m, backfilled"]})
    for adjustment, percent in zip(
        Adjustment.select().where(Adjustment.project == actor.project_id).order_by(Adjustment.position),
        ("8.5", "5"),
        strict=True,
    ):
        adjustments.change_adjustment(actor, adjustment.id, 1, {"percent": percent})
    sums = bill.add_section(actor, "Provisional sums").id or 0
    reason = {"typed_reason": "Client's specification, clause 1.31"}
    bill.add_item(
        actor,
        sums,
        {
            "kind": "provisional",
            "description": "Keeping the formation dry, as instructed",
            "unit": "nr",
            "typed_amount": "4500",
            **reason,
        },
    )
    adjustments.add_adjustment(actor, "Contingency", "2.5", "work")


def _allowance(actor: Actor) -> None:
    """Road cleaning while the surplus is carted away, by the lorry's hours over the items that need it."""
    mark, rule, entered, name, resource = ALLOWANCE
    made = allowances.add_allowance(actor, mark, rule).id or 0
    elements.change_element(actor, made, 1, {"inputs": entered})
    lorry = Resource.get((Resource.project == actor.project_id) & (Resource.name == resource)).id
    draws = [Draw(lorry, item.id) for item in needs.items_needing(actor, lorry)]
    allowances.draw_input(actor, made, 2, name, draws)


if __name__ == "__main__":
    main()
