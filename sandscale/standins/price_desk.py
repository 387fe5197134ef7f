"""The price desk: stands in for suppliers who answer enquiries. It reads the letters that the simulated
mailbox keeps, prices the table that goes along with each, and offers the answers over HTTP; nothing leaves
the machine.

    python -m sandscale.standins.price_desk FOLDER PORT [SECONDS]

``GET /answers?enquiry=REFERENCE`` lists what was answered so far as JSON: ``[{"supplier", "line", "price",
"unit", "least", "quoted_on", "valid_to", "came_on", "source"}]``. One supplier after another answers, so many
seconds apart; the last of them after the day for answers. Now and then something isn't answered, is sold in
large lots only, or costs far more than elsewhere.
"""

from __future__ import annotations

import csv
import io
import json
import mailbox
import random
import re
import sys
import time
from collections.abc import Iterator
from datetime import date, timedelta
from email import message_from_bytes, policy
from email.message import EmailMessage
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any
from urllib.parse import parse_qs, urlsplit

HOST = "127.0.0.1"
EVERY = 4.0  # seconds from one supplier to the next
_REFERENCE = re.compile(r"Enquiry (SS-\d+-\d+)")
# Words in a name, the unit it is used in, how it is sold, and what one of those costs about here.
GOODS: tuple[tuple[str, str, str, float], ...] = (
    ("cement", "kg", "bag 25 kg", 5.3), ("cement", "kg", "pallet of 60 bags of 25 kg", 305.0),
    ("sharp sand", "m³", "t", 25.4), ("aggregate", "m³", "t", 23.6), ("crushed rock", "m³", "t", 17.8),
    ("granular", "t", "t", 12.1), ("bars", "kg", "t", 1104.0), ("wire", "kg", "coil 20 kg", 37.5),
    ("ply", "m²", "sheet 2.44 × 1.22 m", 61.9), ("timber", "m³", "m³", 505.0),
    ("membrane", "m²", "roll 100 m²", 94.0), ("block", "nr", "pallet 72", 116.0),
    ("block", "nr", "thousand", 1590.0), ("pipe", "m", "length 12 m", 228.0),
    ("chamber", "nr", "nr", 640.0), ("asphalt", "t", "t", 79.4), ("kerb", "m", "m", 9.2),
)  # fmt: skip
ELSE = {"h": 42.0, "kg": 1.4, "t": 36.0, "m³": 88.0, "m²": 14.5, "m": 11.0, "nr": 24.0}


class Desk:
    """The letters there are, and what suppliers answer to them."""

    def __init__(self, folder: Path, every: float = EVERY) -> None:
        self.folder, self.every = folder, every

    def answers(self, enquiry: str) -> list[dict[str, Any]]:
        """What was answered to an enquiry so far."""
        letters = sorted(self._letters(enquiry), key=lambda each: each[0])
        found = []
        for at, (supplier, sent, table) in enumerate(letters):
            if time.time() >= sent + at * self.every:
                late = at == len(letters) - 1 and at > 1
                found += [each for row in table if (each := _answer(supplier, enquiry, row, late))]
        return found

    def _letters(self, enquiry: str) -> Iterator[tuple[str, float, list[dict[str, str]]]]:
        if not self.folder.exists():
            return
        for kept in mailbox.Maildir(str(self.folder), create=False):
            letter = message_from_bytes(bytes(kept), policy=policy.default)
            told = _REFERENCE.search(str(letter["Subject"] or ""))
            if told and told[1] == enquiry and isinstance(letter, EmailMessage):
                for part in letter.iter_attachments():
                    text = part.get_payload(decode=True)
                    table = _rows(bytes(text or b"").decode("utf-8-sig"))  # type: ignore[arg-type]
                    yield str(letter["X-Delivered-To"]), float(kept.get_date()), table


def _rows(text: str) -> list[dict[str, str]]:
    """The lines of an enquiry's table, which is set apart by semicolons where its numbers have commas."""
    return list(csv.DictReader(io.StringIO(text), delimiter=";" if text.startswith("Line;") else ","))


def _answer(supplier: str, enquiry: str, row: dict[str, str], late: bool) -> dict[str, Any] | None:
    """What a supplier says to a line; the same whenever it is asked for."""
    chance = random.Random(f"{supplier} {enquiry} {row['Line']}")
    if chance.random() < 0.12 and not late:
        return None  # not theirs to sell; a late answer is one
    name, unit = row["Resource"].lower(), row["Unit"]
    sold = [(pack, price) for word, used, pack, price in GOODS if word in name and used == unit]
    pack, price = chance.choice(sold) if sold else (unit, ELSE.get(unit, 20.0))
    factor = 1.55 if chance.random() < 0.1 else chance.uniform(0.93, 1.08)
    day = date.fromisoformat(row["Prices for"])
    answer_by = date.fromisoformat(row["Answer by"]) if row["Answer by"] else day + timedelta(days=14)
    return {
        "supplier": supplier, "line": int(row["Line"]), "price": f"{price * factor:.2f}", "unit": pack,
        "least": str(chance.choice((10, 20, 50))) if chance.random() < 0.25 else None,
        "quoted_on": (day - timedelta(days=chance.randint(0, 6))).isoformat(),
        "valid_to": (day + timedelta(days=chance.choice((30, 45, 60)))).isoformat(),
        "came_on": (answer_by + timedelta(days=3 if late else -chance.randint(1, 5))).isoformat(),
        "source": f"Quotation {chance.randint(10_000, 99_999)}",
    }  # fmt: skip


def serve(port: int, folder: Path, every: float = EVERY) -> ThreadingHTTPServer:
    """A server of the desk on loopback, at a port of its own where 0 is given; it serves once told to."""
    desk = Desk(folder, every)

    class Page(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            asked = parse_qs(urlsplit(self.path).query).get("enquiry", [""])[0]
            content = json.dumps(desk.answers(asked), ensure_ascii=False).encode()
            self.send_response(200)
            self.send_header("Content-Type", "application/json; charset=utf-8")
            self.send_header("Content-Length", str(len(content)))
            self.end_headers()
            self.wfile.write(content)

        def log_message(self, *_: Any) -> None:
            pass

    return ThreadingHTTPServer((HOST, port), Page)


def main() -> None:
    """Answer until stopped."""
    every = float(sys.argv[3]) if len(sys.argv) > 3 else EVERY
    serve(int(sys.argv[2]), Path(sys.argv[1]), every).serve_forever()


if __name__ == "__main__":
    main()
