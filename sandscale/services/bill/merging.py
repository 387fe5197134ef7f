"""A bill brought into another: seen first, with where its sections go and what clashes; then done as one
change."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from decimal import Decimal
from typing import Any

from ...core.numbers.units import unit
from ...core.pricing import merging
from ...core.pricing.bill import SUMS
from ...core.pricing.comparing import Pair, Stood, words
from ...core.pricing.merging import Choice
from ...core.refusals import BadEntry, Refusal
from ...store.models import Bill, Item, Section
from ..keeping.acting import Actor, InUse, find
from ..keeping.recording import Recording, action, recording
from ..keeping.views import Saved
from .actions import next_position, refuse_issued
from .bills import text
from .compared import paths_of, stood, stood_view
from .reading import currency_of, ordered_sections
from .views import ClashView, MergeView, SectionMatch

Into = Mapping[int, int | None]  # where their sections go: to one of ours, or None for a new one


def merge_seen(actor: Actor, into_id: int, from_id: int, sections: Into | None = None) -> MergeView:
    """What bringing a bill into another would come to: where each of its sections goes, and what clashes.

    Args:
        sections: what was chosen; each section that isn't named goes where one has its title.

    Raises:
        Refusal: the bills are in two currencies, or are one.
        InUse: the bill to add to was issued.
    """
    into, other = _both(actor, into_id, from_id)
    going = _going(into, other, sections or {})
    found = merging.merge(stood(into), stood(other), _by_path(into, other, going))
    heads = {place.section.id: place for place in ordered_sections(into.id)}
    return MergeView(
        sections=[
            SectionMatch(
                id=place.section.id, ref=place.ref, title=place.section.title, depth=place.depth,
                into=going[place.section.id],
                into_title=heads[into_id].section.title if (into_id := going[place.section.id]) else "",
            )
            for place in ordered_sections(other.id)
        ],
        fresh=len(found.fresh), same=len(found.same),
        clashes=[_clash(pair) for pair in found.clashes],
    )  # fmt: skip


def _both(actor: Actor, into_id: int, from_id: int) -> tuple[Bill, Bill]:
    into, other = find(Bill, actor, into_id), find(Bill, actor, from_id)
    refuse_issued(into)
    if into.id == other.id:
        raise InUse("A bill can't be brought into itself.", remedy="Choose another.")
    merging.refuse_two_currencies(currency_of(into), currency_of(other))
    return into, other


def _going(into: Bill, other: Bill, chosen: Into) -> dict[int, int | None]:
    """Where each of a bill's sections goes."""
    ours = {place.section.id for place in ordered_sections(into.id)}
    by_path = {tuple(map(words, path)): section for section, path in paths_of(into).items()}
    by_title = {path[-1]: section for path, section in reversed(by_path.items())}
    found: dict[int, int | None] = {}
    for section, path in paths_of(other).items():
        plain = tuple(map(words, path))
        found[section] = by_path.get(plain) or by_title.get(plain[-1])
        if section in chosen:
            found[section] = chosen[section]
            if found[section] is not None and found[section] not in ours:
                raise BadEntry("That section is not in the bill to add to.", field="sections")
    return found


def _by_path(
    into: Bill, other: Bill, going: Mapping[int, int | None]
) -> dict[tuple[str, ...], tuple[str, ...]]:
    ours = paths_of(into)
    return {
        path: ours[target]
        for section, path in paths_of(other).items()
        if (target := going[section]) is not None
    }


def _clash(pair: Pair) -> ClashView:
    return ClashView(
        ours=stood_view(pair.before), theirs=stood_view(pair.after), differs=list(pair.differs),
        choices=list(merging.choices(pair)),
    )  # fmt: skip


@action
def merge_bills(
    actor: Actor, into_id: int, from_id: int, sections: Into, choices: Mapping[int, Choice]
) -> Saved:
    """Bring a bill into another as one change.

    Args:
        sections: where its sections go, as in :func:`merge_seen`.
        choices: for each of its items that clashes, what is taken; by its id.

    Raises:
        Refusal: a clash has no choice, or one that can't be made.
    """
    into, other = _both(actor, into_id, from_id)
    going = _going(into, other, sections)
    found = merging.merge(stood(into), stood(other), _by_path(into, other, going))
    for pair in found.clashes:
        _refuse_unchosen(pair, choices)
    with recording(actor, f"Bill {other.title} brought into {into.title}") as log:
        theirs = {row.id: row for row in Item.those(Item.id, [item.id for item in stood(other)])}
        added = [theirs[item.id] for item, _ in found.fresh]
        for pair in found.clashes:
            assert pair.before is not None and pair.after is not None
            choice = choices[pair.after.id]
            if choice == "both":
                added.append(theirs[pair.after.id])
            elif choice != "ours":
                _take_over(log, pair.before, pair.after, choice, other)
        targets = _sections_for(log, into, other, going, {item.section_id for item in added})
        log.insert_all(Item, list(_taken(added, targets, other)))
    return log.saved()


def _refuse_unchosen(pair: Pair, choices: Mapping[int, Choice]) -> None:
    assert pair.after is not None
    choice = choices.get(pair.after.id)
    if choice not in merging.choices(pair):
        raise Refusal(
            f"“{pair.after.description}” is in both bills otherwise"
            + (", and its quantities can't be added." if choice == "sum" else "."),
            field="choices", remedy="Choose for it: ours, theirs, both or the sum.",
        )  # fmt: skip


def _sections_for(
    log: Recording, into: Bill, other: Bill, going: Mapping[int, int | None], taken: set[int]
) -> dict[int, int]:
    """The section that each of a bill's goes to; made, with those around it, where it is a new one and
    something of it is taken."""
    targets = {section: target for section, target in going.items() if target is not None}
    every = {place.section.id: place.section for place in ordered_sections(other.id)}
    needed = set(taken)
    for each in taken:
        while (outer := every[each].parent_id) is not None:
            needed.add(each := outer)
    position = len(ordered_sections(into.id))
    for section in every.values():
        if section.id in needed and section.id not in targets:
            parent = targets.get(section.parent_id) if section.parent_id else None
            fields = {"title": section.title, "number": section.number, "position": position}
            row = log.insert(Section, bill=into.id, parent=parent, **fields)
            targets[section.id], position = row.id, position + 1
    return targets


def _taken(items: Iterable[Item], targets: Mapping[int, int], other: Bill) -> Iterator[dict[str, Any]]:
    """Items of another bill as they stand there, typed, each at the end of the section it goes to."""
    ends: dict[int, int] = {}
    for item in items:
        section = targets[item.section_id]
        ends[section] = ends[section] + 1 if section in ends else next_position(section)
        yield {
            "section": section, "position": ends[section], "kind": item.kind, "unit": item.unit,
            "description": item.description, "number": item.number, "note": item.note,
            "client_text": item.client_text, "typed_rate": "", "rate_reason": "",
            "typed_amount": text(item.amount) if item.typed_amount else "",
            **_quantity(item.quantity, item.kind, other), **_rate(item.rate, other),
        }  # fmt: skip


def _quantity(quantity: Decimal, kind: str, other: Bill) -> dict[str, str]:
    typed = text(quantity) if kind in ("measured", "rate_only", "time") else ""
    return {"typed_quantity": typed, "typed_reason": f"from {other.title}" if typed else ""}


def _rate(rate: Decimal | None, other: Bill) -> dict[str, Any]:
    if rate is None:
        return {}
    return {"typed_rate": text(rate), "rate_reason": f"from {other.title}"}


def _take_over(log: Recording, ours: Stood, theirs: Stood, choice: Choice, other: Bill) -> None:
    """Put what is chosen of theirs in the place of ours."""
    row = Item.get_by_id(ours.id)
    if choice == "sum":
        size = Decimal(str(unit(theirs.unit).size / unit(ours.unit).size))
        reason = f"{text(ours.quantity)} and {text(theirs.quantity)} {theirs.unit} from {other.title}"
        log.update(row, typed_quantity=text(ours.quantity + theirs.quantity * size), typed_reason=reason)
        return
    fields: dict[str, Any] = {
        "description": theirs.description, "unit": theirs.unit, "kind": theirs.kind,
    }  # fmt: skip
    if (ours.quantity, ours.unit, ours.kind) != (theirs.quantity, theirs.unit, theirs.kind):
        fields |= _quantity(theirs.quantity, theirs.kind, other)
    if ours.rate != theirs.rate or ours.unit != theirs.unit:
        for part in row.parts:
            log.delete(part)
        plain = {"build_up": None, "size": "", "typed_rate": "", "rate_reason": ""}
        fields |= {**plain, **_rate(theirs.rate, other)}
    if theirs.kind not in SUMS:
        fields["typed_amount"] = ""
    elif ours.kind != theirs.kind or ours.amount != theirs.amount:
        fields["typed_amount"] = text(theirs.amount)
    log.update(row, **fields)
