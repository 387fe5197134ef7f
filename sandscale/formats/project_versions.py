"""Project files of earlier versions, brought up to today's row by row: a step for each version.

A version is written down here once and never changed; a kept file of each is read in the tests.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

Row = dict[str, Any]
VERSION = 17


@dataclass(frozen=True)
class Step:
    """How a file of one version becomes one of the next.

    Attributes:
        project: the project's own fields.
        rows: a row of some tables, by the table's name; others stay as they are.
        tables: tables that the version before didn't have, with their rows.
    """

    project: Callable[[Row], Row]
    rows: Mapping[str, Callable[[Row], Row]] = field(default_factory=dict)
    tables: Mapping[str, Sequence[Row]] = field(default_factory=dict)


def _hung_on_the_bill(row: Row) -> Row:
    return {**row, "bill": 1}


def _measured_by_make_up(row: Row) -> Row:
    rest = {name: value for name, value in row.items() if name != "makeup"}
    return {**rest, "measurer": "make-up", "source": row["makeup"], "detailing": ""}


# Measurers and bills: elements say what they go by, sections and adjustments hang on the project's own bill.
_TO_2 = Step(
    project=lambda row: {**row, "detailing": ""},
    rows={
        "element": _measured_by_make_up,
        "dimension_line": lambda row: {**row, "taken_from": None, "taken_output": ""},
        "item": lambda row: {**row, "typed_rate": "", "number": "", "client_text": ""},
        "item_link": lambda row: {**row, "split": "", "part": ""},
        "section": _hung_on_the_bill,
        "adjustment": _hung_on_the_bill,
    },
    tables={"bill": [{"kind": "own", "title": "Bill of quantities", "position": 0, "dated": None}]},
)
# Unit systems, ways of writing numbers, and notes on the lines of build-ups.
_TO_3 = Step(
    project=lambda row: {**row, "unit_system": "metric", "numbers": ""},
    rows={"build_up_line": lambda row: {**row, "note": ""}},
)
# A working day.
_TO_4 = Step(project=lambda row: {**row, "working_day": 8.0})
# Bars: rules of a project's own, typed bars, marks, issues of the schedule, cutting.
_TO_5 = Step(
    project=lambda row: row,
    tables={
        "own_detailing": [], "typed_bar": [], "bar_mark": [], "bar_issue": [],
        "cutting": [], "cut_member": [], "off_cut": [],
    },
)  # fmt: skip
# Ground: surveys, surfaces, earthworks.
_TO_6 = Step(
    project=lambda row: row,
    tables={
        "survey": [], "level": [], "level_decision": [], "ground_surface": [], "surface_survey": [],
        "ground_line": [], "earthwork": [], "formation": [], "earth_class": [], "earth_stage": [],
    },
)  # fmt: skip
# Trenches.
_TO_7 = Step(
    project=lambda row: row,
    tables={"trench_kind": [], "trench_network": [], "trench_node": [], "trench_run": []},
)
# Routes.
_TO_8 = Step(
    project=lambda row: row,
    tables={
        "typical_section": [], "route": [], "route_corner": [], "route_level": [], "route_change": [],
        "route_stretch": [], "named_quantity": [], "imported_section": [],
    },
)  # fmt: skip
# Mark-up and margin of rates, and their notes.
_TO_9 = Step(
    project=lambda row: row,
    rows={"build_up": lambda row: {**row, "added": "0", "added_on": "cost", "note": ""}},
)
# Enquiries; quotes that say themselves how much they hold; densities and own norms of resources.
_TO_10 = Step(
    project=lambda row: row,
    rows={
        "resource": lambda row: {
            **row, "density": "", "density_source": "", "norm_low": None, "norm_high": None,
            "norm_source": "",
        },
        "quote": lambda row: {**row, "least": None, "answer": None},
    },
    tables={"supplier": [], "enquiry": [], "enquiry_line": [], "enquiry_supplier": [], "answer": []},
)  # fmt: skip
# Reference rates, read by lines of rates; prices that are worked out.
_TO_11 = Step(
    project=lambda row: row,
    rows={
        "build_up": lambda row: {**row, "sized_by": "", "sized_in": "", "source": "", "year": ""},
        "build_up_line": lambda row: {**row, "size": ""},
        "resource": lambda row: {**row, "worked": {}},
    },
    tables={"reference_size": [], "price_draw": []},
)
# Allowances and what rates take from quantity lines; banded rates, whose bands an item's size picks.
_TO_12 = Step(
    project=lambda row: row,
    rows={
        "build_up": lambda row: {
            **row, "output_taken": None, "output_key": "", "hours_taken": None, "hours_key": "",
        },
        "build_up_line": lambda row: {**row, "taken": None, "taken_key": ""},
        "item": lambda row: {**row, "size": ""},
    },
    tables={"rate_band": [], "input_draw": []},
)  # fmt: skip


def _billed(row: Row) -> Row:
    return {**row, "rate_reason": "as issued" if row["typed_rate"] else "", "note": "", "place": ""}


# Rates of items typed with a reason or composed of several, preliminaries, clients' workbooks; bills in a
# currency of their own, which is the project's where it is empty.
_TO_13 = Step(
    project=lambda row: row,
    rows={
        "bill": lambda row: {**row, "currency": "", "period": "", "file": None, "layout": {}},
        "section": lambda row: {**row, "number": ""},
        "item": _billed,
    },
    tables={"rate_part": []},
)
# Orders, their lines, and what came.
_TO_14 = Step(project=lambda row: row, tables={"purchase_order": [], "order_line": [], "delivery": []})
# Issued packages, forms of one's own; items that were composed when their bill was issued.
_TO_15 = Step(
    project=lambda row: row,
    rows={"item": lambda row: {**row, "composite": False}},
    tables={"issued_package": [], "own_form": [], "form_cell": []},
)
# Trials.
_TO_16 = Step(project=lambda row: row, tables={"trial": [], "trial_change": []})
# Layers of DXF drawings; revisions laid over one another, and the bill as it was before one.
_TO_17 = Step(
    project=lambda row: row,
    rows={
        "bill": lambda row: {**row, "revision": None},
        "sheet": lambda row: {**row, "hidden": [], "follows": None, "lay": {}, "stood": []},
        "figure": lambda row: {**row, "near": False},
    },
    tables={"changed_place": []},
)
_STEPS: Mapping[int, Step] = {
    1: _TO_2, 2: _TO_3, 3: _TO_4, 4: _TO_5, 5: _TO_6, 6: _TO_7, 7: _TO_8, 8: _TO_9,
    9: _TO_10, 10: _TO_11, 11: _TO_12, 12: _TO_13, 13: _TO_14, 14: _TO_15, 15: _TO_16,
    16: _TO_17,
}  # fmt: skip


def steps_from(version: int) -> list[Step]:
    """The steps that bring a file of a version up to today's, in order."""
    return [_STEPS[each] for each in range(version, VERSION)]


def is_known(version: Any) -> bool:
    """Whether files of a version are read."""
    return type(version) is int and (version in _STEPS or version == VERSION)
