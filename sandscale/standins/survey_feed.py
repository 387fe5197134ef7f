"""The survey feed: stands in for an instrument that sends its levels now and then. It makes a file of levels
every few minutes, every third with faults, and offers them over HTTP; nothing leaves the machine.

    python -m sandscale.standins.survey_feed PORT [SECONDS]

``GET /`` lists the files as JSON: ``[{"name", "made", "size"}]``, the newest first; ``GET /NAME`` is one.
"""

from __future__ import annotations

import json
import math
import random
import sys
import time
from datetime import UTC, datetime
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

HOST = "127.0.0.1"
EVERY = 600.0  # seconds between files
AT_FIRST, MOST = 3, 60
EAST, NORTH = 2512.0, 5176.0  # the stockpile's middle, on the site's grid


class Feed:
    """The files sent so far: one more each so many seconds since the feed began."""

    def __init__(self, every: float = EVERY) -> None:
        self.begun, self.every = time.time(), every

    def files(self) -> list[tuple[str, float]]:
        """Names and times, the newest first."""
        number = min(AT_FIRST + int((time.time() - self.begun) / self.every), MOST)
        made = [
            (f"stockpile-{n:03d}.csv", self.begun - (AT_FIRST - n) * self.every) for n in range(1, number + 1)
        ]
        return made[::-1]

    def content(self, name: str) -> bytes | None:
        """A file's bytes; the same whenever it is asked for."""
        if name not in dict(self.files()):
            return None
        return levels(int(name[10:13]))


def levels(number: int) -> bytes:
    """The stockpile as it was measured the n-th time: it grows. Every third file has a level that is far off,
    one that is missing, and a point sent twice."""
    shaken = random.Random(number)
    rows = []
    for ring in range(9):
        for spoke in range(10 if ring else 1):
            turn, far = spoke * math.tau / 10 + shaken.uniform(-0.1, 0.1), ring * 1.6
            high = max(0.0, (2.0 + 0.25 * number) * (1 - far / 12)) + shaken.uniform(-0.04, 0.04)
            east, north = EAST + far * math.cos(turn), NORTH + far * math.sin(turn)
            rows.append([f"{east:.3f}", f"{north:.3f}", f"{43.2 + high:.3f}", "pile" if ring < 8 else "foot"])
    if number % 3 == 0:
        rows[20][2] = f"{float(rows[20][2]) + 30:.3f}"
        rows[41][2] = ""
        rows.append(list(rows[33]))
    lines = ["E;N;H;code", *(";".join(row) for row in rows)]
    return ("\r\n".join(lines) + "\r\n").encode()


def serve(port: int, every: float = EVERY) -> ThreadingHTTPServer:
    """A server of the feed, ready to be run."""
    feed = Feed(every)

    class Page(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            name = self.path.strip("/")
            body = feed.content(name) if name else _listed(feed)
            self.send_response(200 if body is not None else 404)
            self.send_header("Content-Type", "text/csv" if name else "application/json")
            self.send_header("Content-Length", str(len(body or b"")))
            self.end_headers()
            self.wfile.write(body or b"")

        def log_message(self, *_: object) -> None:
            """Say nothing."""

    return ThreadingHTTPServer((HOST, port), Page)


def _listed(feed: Feed) -> bytes:
    told = [
        {
            "name": name,
            "made": datetime.fromtimestamp(made, UTC).isoformat(timespec="seconds"),
            "size": len(feed.content(name) or b""),
        }
        for name, made in feed.files()
    ]
    return json.dumps(told).encode()


if __name__ == "__main__":
    serve(int(sys.argv[1]), float(sys.argv[2]) if len(sys.argv) > 2 else EVERY).serve_forever()
