"""Bills in the open exchange format GAEB DA XML, version 3.2: written with quantities and prices (exchange
phase 84), read from any phase from 81 to 86."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import Any

from lxml import etree

from ..core.numbers.units import is_unit, unit
from ..core.pricing.bill import SUMS, ItemKind
from ..core.pricing.bill_columns import Line
from ..core.refusals import Refusal

LARGEST, MOST_ITEMS, DEEPEST = 25 * 1024 * 1024, 30_000, 6
MEDIA_TYPE, VERSION = "application/xml", "3.2"
_SPACE = "http://www.gaeb.de/GAEB_DA_XML/DA84/3.2"
_KNOWN = re.compile(r"\{http://www\.gaeb\.de/GAEB_DA_XML[^}]*\}GAEB")
# Units as the format's files write them; others are written as we do.
_OUT = {"m²": "m2", "m³": "m3", "nr": "St", "week": "Wo", "month": "Mt", "day": "d"}
_IN = {
    "st": "nr", "stk": "nr", "stck": "nr", "stück": "nr", "psch": "", "pausch": "", "lfm": "m", "lm": "m",
    "std": "h", "wo": "week", "mt": "month", "mon": "month", "d": "day", "tag": "day", "to": "t", "ltr": "l",
}  # fmt: skip


class UnreadableExchange(Refusal):
    """A file that holds no bill in the exchange format."""


@dataclass(frozen=True)
class ExchangeItem:
    """An item as it goes out; ``rate`` and ``amount`` where it has them."""

    kind: ItemKind
    description: str
    note: str
    unit: str
    quantity: Decimal
    rate: Decimal | None
    amount: Decimal


@dataclass(frozen=True)
class ExchangeSection:
    """A section with its own items and the sections in it."""

    title: str
    items: Sequence[ExchangeItem]
    inner: list[ExchangeSection] = field(default_factory=list)


@dataclass(frozen=True)
class ExchangeBill:
    """A bill as it goes out."""

    project: str
    title: str
    currency: str
    dated: date
    total: Decimal
    sections: Sequence[ExchangeSection]


def write(bill: ExchangeBill) -> bytes:
    """The file's bytes."""
    root = etree.Element(_name("GAEB"), nsmap={None: _SPACE})
    info = _put(root, "GAEBInfo")
    for name, text in (("Version", VERSION), ("VersDate", "2013-10"), ("Date", f"{bill.dated:%Y-%m-%d}")):
        _put(info, name, text)
    _put(info, "ProgSystem", "Sand Scale")
    project = _put(root, "PrjInfo")
    _put(project, "NamePrj", bill.project[:20])
    _put(project, "LblPrj", bill.project)
    award = _put(root, "Award")
    _put(award, "DP", "84")
    _put(_put(award, "AwardInfo"), "Cur", bill.currency)
    boq = _put(award, "BoQ", ID="B1")
    about = _put(boq, "BoQInfo")
    _put(about, "Name", bill.title[:20])
    _put(about, "LblBoQ", bill.title)
    for _ in range(max(_deep(bill.sections), 1)):
        _level(about, "BoQLevel", 3)
    _level(about, "Item", 4)
    _put(_put(about, "Totals"), "Total", f"{bill.total:.2f}")
    _sections(_put(boq, "BoQBody"), bill.sections, "B1")
    return bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8", pretty_print=True))


def _level(about: Any, kind: str, length: int) -> None:
    level = _put(about, "BoQBkdn")
    for name, text in (("Type", kind), ("Length", str(length)), ("Num", "Yes")):
        _put(level, name, text)


def _deep(sections: Sequence[ExchangeSection]) -> int:
    return 1 + max((_deep(each.inner) for each in sections), default=0) if sections else 0


def _sections(body: Any, sections: Sequence[ExchangeSection], above: str) -> None:
    for number, section in enumerate(sections, start=1):
        own = f"{above}.{number}"
        category = _put(body, "BoQCtgy", ID=own, RNoPart=f"{number:03}")
        _words(_put(category, "LblTx"), section.title)
        inner = _put(category, "BoQBody")
        _sections(inner, section.inner, own)
        if section.items:
            listed = _put(inner, "Itemlist")
            for at, item in enumerate(section.items, start=1):
                _item(listed, item, f"{own}.I{at}", f"{at * 10:04}")


def _item(listed: Any, item: ExchangeItem, own: str, number: str) -> None:
    if item.kind == "heading":
        _described(_put(listed, "Remark", ID=own), item.description, "")
        return
    row = _put(listed, "Item", ID=own, RNoPart=number)
    if item.kind in ("provisional", "prime_cost"):
        _put(row, "Provis", "WithTotal")
    if item.kind in SUMS:
        _put(row, "LumpSumItem", "Yes")
    once = item.kind in SUMS
    _put(row, "Qty", f"{1 if once else item.quantity:.3f}")
    _put(row, "QU", "psch" if once else _OUT.get(item.unit, item.unit))
    rate = item.amount if once else item.rate
    if rate is not None:
        _put(row, "UP", f"{rate:.4f}".rstrip("0").ljust(len(f"{rate:.2f}"), "0"))
        _put(row, "IT", f"{item.amount:.2f}")
    _described(row, item.description, item.note)


def _described(row: Any, words: str, note: str) -> None:
    whole = _put(_put(row, "Description"), "CompleteText")
    _words(_put(_put(whole, "DetailTxt"), "Text"), "\n".join(filter(None, (words, note))))
    _words(_put(_put(_put(whole, "OutlineText"), "OutlTxt"), "TextOutlTxt"), words[:70])


def _words(place: Any, text: str) -> None:
    for line in text.split("\n"):
        shown = "".join(sign if sign.isprintable() else " " for sign in line)
        _put(_put(place, "p"), "span", shown)


def _put(place: Any, name: str, text: str | None = None, **attributes: str) -> Any:
    made = etree.SubElement(place, _name(name), attributes)
    made.text = text
    return made


def _name(name: str) -> str:
    return f"{{{_SPACE}}}{name}"


def is_exchange(content: bytes) -> bool:
    """Whether a file begins as one of the format does."""
    return b"GAEB" in content[:4000] and content.lstrip(b"\xef\xbb\xbf \r\n\t")[:1] == b"<"


def read(content: bytes, name: str) -> list[Line]:
    """The sections and items of a file, in order, numbered as they are there.

    Args:
        content: the file.
        name: what the user calls it, for sentences.

    Raises:
        UnreadableExchange: it is too large, broken, or holds no bill.
    """
    if len(content) > LARGEST:
        raise _refused(f"“{name}” is larger than {LARGEST // 2**20} MB.", "Send it in parts.")
    try:
        parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False)
        root = etree.fromstring(content, parser)
    except etree.XMLSyntaxError:
        raise _refused(f"“{name}” is cut off or no XML.", "Have it written again.") from None
    if not isinstance(root.tag, str) or not _KNOWN.fullmatch(root.tag) or root.getroottree().docinfo.doctype:
        raise _refused(f"“{name}” is no bill in GAEB DA XML.", "Choose a file such as X83 or X84.")
    body = next((each for each in _children(_first(root, "Award", "BoQ"), "BoQBody")), None)
    lines = list(_read_body(body, "", 0)) if body is not None else []
    if not any(line.what == "item" for line in lines):
        raise _refused(f"“{name}” holds no item.", "Choose the file with the bill.")
    if len(lines) > MOST_ITEMS:
        raise _refused(f"“{name}” has more than {MOST_ITEMS:,} rows.", "Send it in parts.")
    return [replace(line, row=row) for row, line in enumerate(lines, start=1)]


def _refused(says: str, remedy: str) -> UnreadableExchange:
    return UnreadableExchange(says, field="file", remedy=remedy)


def _read_body(body: Any, above: str, depth: int) -> Iterator[Line]:
    """A section's own items, then the sections in it."""
    for listed in _children(body, "Itemlist"):
        for row in listed:
            if (line := _read_item(row, above)) is not None:
                yield line
    for category in _children(body, "BoQCtgy") if depth < DEEPEST else ():
        number = _join(above, category.get("RNoPart", ""))
        title = _text(_first(category, "LblTx")) or number or "Section"
        yield Line(0, "section", number, title, depth=depth)
        for inner in _children(category, "BoQBody"):
            yield from _read_body(inner, number, depth + 1)


def _read_item(row: Any, above: str) -> Line | None:
    kind = _local(row)
    words = _text(_first(row, "Description", "CompleteText", "DetailTxt")) or _text(
        _first(row, "Description")
    )
    if kind == "Remark":
        return Line(0, "words", "", words) if words else None
    if kind != "Item":
        return None
    number = _join(above, f"{row.get('RNoPart', '')}{row.get('RNoIndex', '')}")
    quantity, rate, amount = (_number(row, name) for name in ("Qty", "UP", "IT"))
    told = _value(row, "QU").strip()
    once = _value(row, "LumpSumItem") == "Yes" or (told.lower() in _IN and not _IN[told.lower()])
    symbol, says = "nr", ""
    if not once:
        plain = _IN.get(told.lower(), told)
        if is_unit(plain):
            symbol = unit(plain).symbol
        else:
            says = f"Its unit “{told[:20]}” isn't known; it counts in nr."
    item: ItemKind = "measured"
    if once:
        item = "provisional" if _value(row, "Provis") else "lump_sum"
    elif quantity is None:
        item, says = "rate_only", f"It has no quantity, so it is taken for its rate only. {says}".strip()
    return Line(0, "item", number, words or number, symbol, quantity, rate, amount, "", item, says=says)


def _join(above: str, number: str) -> str:
    return ".".join(part for part in (above, number.strip()) if part)


def _local(element: Any) -> str:
    return etree.QName(element).localname if isinstance(element.tag, str) else ""


def _children(element: Any, name: str) -> Iterator[Any]:
    if element is not None:
        yield from (each for each in element if _local(each) == name)


def _first(element: Any, *names: str) -> Any:
    for name in names:
        element = next(_children(element, name), None)
    return element


def _value(element: Any, name: str) -> str:
    found = _first(element, name)
    return (found.text or "") if found is not None else ""


def _number(element: Any, name: str) -> Decimal | None:
    try:
        value = Decimal(_value(element, name).strip())
    except InvalidOperation:
        return None
    return value if value.is_finite() and abs(value) < Decimal(10) ** 12 else None


def _text(element: Any) -> str:
    """The words in an element, a line for each paragraph."""
    if element is None:
        return ""
    paragraphs = [each for each in element.iter() if _local(each) == "p"]
    told = ["".join(each.itertext()) for each in paragraphs] or ["".join(element.itertext())]
    return "\n".join(" ".join(each.split()) for each in told if each.strip())
