"""The part of the walk that is trenches: kinds, and the quantities of single runs."""

from __future__ import annotations

from ....core.ground.trench.document import kind_of, read_kind
from ....core.measurers.trench import run_working
from ....core.numbers.working import Working
from ....store.models import TrenchKind, TrenchNetwork, TrenchRun
from ...keeping.acting import Actor, Missing, find
from ...keeping.views import WalkView
from ...keeping.walking import Step, link_to, view_of
from .actions import network_of
from .entered import Entered


def _run(actor: Actor, ref: str, element_id: str, at: str, output: str) -> WalkView:
    """A quantity of one run, span by span. In m, whatever the project's units, as trenches are set out."""
    row = network_of(actor, int(element_id))
    entered, element = Entered(row), row.element
    net, _ = entered.made()
    if not at.isdecimal() or int(at) >= len(net.runs):
        raise Missing(f"{element.mark} has no such run.")
    run = net.runs[int(at)]
    place = entered.places_in(net)[int(at)]
    kind_ref = f"trench-kind:{entered.runs[place].kind_id}"
    comes = [link_to(kind_ref, f"Kind “{run.run.kind.name}”", None, "", "ground", None)]
    whole = f"quantity:{element.id}:{output}"
    goes = [link_to(whole, f"All of {element.mark}", None, "", "ground", element.id)]
    found = [each.says for each in net.findings if each.line == place]
    return view_of(ref, run_working(run, output), comes, goes, found)


def _kind(actor: Actor, ref: str, kind_id: str) -> WalkView:
    row = find(TrenchKind, actor, int(kind_id))
    kind = kind_of(read_kind(row.document))
    told = [
        ("Pipe, outside", kind.pipe.outside if kind.pipe else 0.0), ("Bed below the pipe", kind.bed),
        ("Bottom", kind.width), ("Least cover", kind.cover),
    ]  # fmt: skip
    parts = [Working(name, value, "m") for name, value in told if value]
    parts += [
        Working(f"{layer.name}, to {layer.mark}", top, "m", source="above the bottom")
        for layer, top in zip(kind.surrounds, kind.tops, strict=True)
    ]
    parts += [Working(layer.name, layer.thickness, "m", source="put back") for layer in kind.reinstatements]
    working = Working(
        f"Kind “{row.name}”, bottom below the invert", kind.below_invert, "m", "bed + wall of the pipe",
        parts=tuple(parts),
    )  # fmt: skip
    networks = TrenchRun.column(TrenchRun.network, TrenchRun.kind, [row.id])
    goes = [
        link_to(
            f"quantity:{n.element_id}:dug", f"Trenches {n.element.mark}", None, "", "ground", n.element_id
        )
        for n in TrenchNetwork.those(TrenchNetwork.id, networks)
    ]
    return view_of(ref, working, [], goes)


STEPS = {"trench-run": Step(3, _run), "trench-kind": Step(1, _kind)}
