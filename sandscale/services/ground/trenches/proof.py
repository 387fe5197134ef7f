"""What must hold of trenches from a project file."""

from __future__ import annotations

from typing import Any

from ....core.refusals import Refusal
from ....store.models import Element, TrenchKind, TrenchNetwork, TrenchNode
from ...keeping.proving import refuse_empty, refuse_twins
from .actions import NODE_FIELDS, RUN_FIELDS, kind_kept, network_fields, node_fields, run_fields


def _kind(row: dict[str, Any]) -> None:
    if not isinstance(row["document"], dict) or kind_kept(row["document"]) != row["document"]:
        raise Refusal("It is no kind of trench that could be typed.")
    if row["document"]["name"] != row["name"]:
        raise Refusal("Its name is not that of its document.")


def _network(row: dict[str, Any]) -> None:
    given = {name: row[name] for name in ("bands", "bulking", "compacted", "lorry")}
    if network_fields(given) != given:
        raise Refusal("It is no network that could be typed.")


def _node(row: dict[str, Any]) -> None:
    refuse_empty(row, "name")
    given = {name: row[name] for name in NODE_FIELDS}
    if node_fields(given) != given:
        raise Refusal("It is no node that could be typed.")


def _run(row: dict[str, Any]) -> None:
    given = {name: row[name] for name in RUN_FIELDS}
    if run_fields(None, given) != given:
        raise Refusal("It is no run that could be typed.")


RULES = {"trench_kind": _kind, "trench_network": _network, "trench_node": _node, "trench_run": _run}


def prove_networks(project_id: int) -> None:
    """Networks are of elements that are such, and their nodes and kinds have names of their own.

    Raises:
        Refusal: something doesn't hold.
    """
    networks = TrenchNetwork.select(TrenchNetwork.element).where(TrenchNetwork.project == project_id)
    trenches = (Element.project == project_id) & (Element.measurer == "trench")
    if Element.select().where(trenches & ~(Element.id << networks)).exists():
        raise Refusal("Trenches lack what they are reckoned from.")
    other = (TrenchNetwork.project == project_id) & (Element.measurer != "trench")
    if TrenchNetwork.select(TrenchNetwork.id).join(Element).where(other).exists():
        raise Refusal("A network is of an element that is something else.")
    refuse_twins(TrenchKind, project_id, TrenchKind.name)
    refuse_twins(TrenchNode, project_id, TrenchNode.name, TrenchNode.network)
