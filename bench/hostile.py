"""Hostile requests and files, thousands of them: the server answers each in words, none with a failure, and the project
they were aimed at stays whole.

    python -m bench.hostile [CASES] [SEED]       10,000 unless told otherwise; uses SANDSCALE_DATABASE

What fails is printed with the case that does it.
"""

from __future__ import annotations

import copy
import io
import json
import random
import re
import sys
from collections import Counter
from collections.abc import Callable
from typing import Any
from urllib.parse import quote

from werkzeug.test import TestResponse

from sandscale.web.api import CSRF_HEADER, KNOWN_HEADER
from tests import scene
from tests.formats.test_drawings import picture
from tests.services.test_any_file import AnyFile
from tests.web.test_any_request import FAR, READABLE, WRONG, AnyRequest

Answer = tuple[str, TestResponse]
TYPES = (
    "application/json", "text/plain", "application/xml", "multipart/form-data", "multipart/form-data; boundary=",
    "application/x-www-form-urlencoded", "application/json; charset=utf-7", "application/octet-stream", "", "/", "a" * 500,
)  # fmt: skip
BODIES = (
    b"", b"{", b"null", b"[]", b"true", b'"x"', b"\xff\xfe\x00", b"<?xml version='1.0'?><x/>", b"a=b&c=d", b"{}" * 5000, b"[" * 20_000,
    b'{"a":' * 3000, b"--x\r\nContent-Disposition: form-data; name=\"file\"; filename=\"\r\n\r\n", b"NaN", b'{"version": Infinity}',
    b'{"version": 1, "version": 2}', b'{"\\u0000": 1}', b"\x00" * 100,
)  # fmt: skip
PARTS = (
    "x" * 5000, "%00", "%ff", "%ed%a0%80", "..", "%2e%2e%2f", "%c0%ae", "١٢", "²", "-1", "1e3", "0x1", "NaN", " ", "%0d%0aX:%20y", "👷", "a;b", "{}", "%",
    "\u202e", "line:1:2:3", "quantity:1", "item:", "bill:bill", "build-up-line:x", "quantity:1:" + "y" * 300, *map(str, FAR),
)  # fmt: skip
QUERIES = (
    "find=%00", "find=" + "x" * 9000, "first=-1", "first=1e9", f"most={10**30}", "most=0", "most=-5", "before=x", f"since={2**63}", "since=²",
    "since=-1", "find[]=1&find[]=2", "%ff=%ff", "k=" + "&k=" * 500, "first=١", "ids=1,2,x", "ids=" + ",".join(map(str, FAR)), "a" * 20_000,
)  # fmt: skip


class Sweep(AnyRequest):
    """Cases of every kind, by dice; run as a test is, but as many as one likes."""

    def begin(self, seed: int) -> None:
        """A project to aim at, and the files to spoil."""
        self.setUpClass()
        self.setUp()
        self.dice = random.Random(seed)
        self.actor, self.ids = self.furnished()
        self.person = self.browser(self.actor.person_id)
        self.known = [(m, p, o) for m, p, o in self.operations()]
        content = json.loads(scene.file_of(self.actor))
        self.good, self.deep = content, self.nested(content)
        self.drawings = [scene.pdf(2), *(picture(kind) for kind in ("PNG", "JPEG", "TIFF"))]
        self.kinds: list[tuple[str, Callable[[], Answer]]] = [
            ("content type", self.content_type), ("address", self.address), ("query", self.query), ("header", self.header),
            ("body", self.body), ("body", self.body), ("drawing", self.drawing), ("project file", self.project_file),
            ("reference", self.reference),
        ]  # fmt: skip

    def route(self, *methods: str) -> tuple[str, str, dict[str, Any]]:
        """One operation of the API's, with the address of its sample."""
        method, path, operation = self.dice.choice([k for k in self.known if not methods or k[0] in methods])
        return method, path, operation

    def filled(self, path: str, **instead: str) -> str:
        return re.sub(
            r"\{(\w+)\}", lambda match: instead.get(match[1]) or str(self.ids.get(match[1], "bill")), path
        )

    def sent(self, method: str, address: str, **more: Any) -> TestResponse:
        headers = {CSRF_HEADER: self.person.token, **more.pop("headers", {})}
        return self.person.client.open(address, method=method, headers=headers, **more)

    def content_type(self) -> Answer:
        method, path, _ = self.route()
        kind, body = self.dice.choice(TYPES), self.dice.choice(BODIES)
        address = self.filled(path)
        told = f"{method} {address} as {kind[:40]!r}: {body[:40]!r}"
        return told, self.sent(method, address, data=body, content_type=kind)

    def address(self) -> Answer:
        method, path, _ = self.route()
        names, part = re.findall(r"\{(\w+)\}", path), self.dice.choice(PARTS)
        address = self.filled(
            path, **{self.dice.choice(names): part} if names and self.dice.random() < 0.8 else {}
        )
        if self.dice.random() < 0.2:
            address = self.dice.choice(("/", "/api/", "/assets/", "/projects/", "/api/projects/")) + part
        return f"{method} {address[:120]}", self.sent(method, address, json={})

    def query(self) -> Answer:
        _, path, _ = self.route("GET")
        address = f"{self.filled(path)}?{'&'.join(self.dice.choice(QUERIES) for _ in range(self.dice.randrange(1, 3)))}"
        return f"GET {address[:160]}", self.sent("GET", address)

    def header(self) -> Answer:
        method, path, _ = self.route()
        name = self.dice.choice(
            (
                CSRF_HEADER,
                KNOWN_HEADER,
                "Cookie",
                "Content-Length",
                "Accept",
                "Host",
                "Range",
                "If-None-Match",
                "Content-Encoding",
            )
        )
        value = self.dice.choice(
            (
                "",
                "x" * 3000,
                "-1",
                "²",
                "9" * 40,
                "bytes=0-",
                "sandscale_session=x; sandscale_session=y",
                "\x7f",
                "é",
                "gzip",
            )
        )
        address = self.filled(path)
        return f"{method} {address} with {name}: {value[:30]!r}", self.sent(
            method, address, json={}, headers={name: value}
        )

    def body(self) -> Answer:
        while True:
            method, path, operation = self.route()
            content = (
                operation.get("requestBody", {}).get("content", {}).get("application/json", {}).get("schema")
            )
            if content is not None:
                break
        body = self.sample(content, "", self.ids)
        if isinstance(body, dict) and body:
            for key in self.dice.sample(list(body), min(len(body), self.dice.randrange(1, 3))):
                body[key] = self.dice.choice(WRONG)
        else:
            body = self.dice.choice(WRONG)
        address = self.filled(path)
        return f"{method} {address} {json.dumps(body)[:160]}", self.sent(method, address, json=body)

    def reference(self) -> Answer:
        kinds = (
            "line",
            "figure",
            "quantity",
            "item",
            "item-quantity",
            "build-up",
            "build-up-line",
            "resource",
            "quote",
            "section",
            "bill",
            "makeup",
            "x",
        )
        ref = ":".join(
            (self.dice.choice(kinds), *(self.dice.choice(PARTS) for _ in range(self.dice.randrange(0, 3))))
        )
        address = (
            f"/api/projects/{self.actor.project_id}/{self.dice.choice(('walk', 'history'))}/{quote(ref)}"
        )
        return f"GET {address[:160]}", self.sent("GET", address)

    def drawing(self) -> Answer:
        content = bytearray(self.dice.choice(self.drawings))
        for _ in range(self.dice.choice((0, 1, 3, 20))):
            at = self.dice.randrange(len(content))
            content[at : at + self.dice.choice((0, 1, 4, 40))] = bytes(
                self.dice.randrange(256) for _ in range(self.dice.choice((0, 1, 2, 8)))
            )
        del content[self.dice.choice((len(content), self.dice.randrange(len(content)))) :]
        name = self.dice.choice(
            ("plan.pdf", "", "a" * 900 + ".png", "\x00.pdf", "../../x", "'\"\r\nX: y", "👷.tiff")
        )
        field = self.dice.choice(("file", "file", "file", "file", "other"))
        address = f"/api/projects/{self.actor.project_id}/drawings"
        answer = self.sent("POST", address, data={field: (io.BytesIO(bytes(content)), name)})
        if answer.status_code == 200:
            tile = self.sent(
                "GET", f"/api/projects/{self.actor.project_id}/sheets/{self.newest_sheet()}/tiles/2/0/0.png"
            )
            answer = tile if tile.status_code >= 500 else answer
            self.sent("POST", f"/api/projects/{self.actor.project_id}/undo")
        return f"drawing {bytes(content)[:12]!r} of {len(content)} bytes as {name[:20]!r}", answer

    def newest_sheet(self) -> int:
        drawings = self.sent("GET", f"/api/projects/{self.actor.project_id}/drawings").json
        return int(drawings[-1]["sheets"][0]["id"])

    def nested(self, good: dict[str, Any]) -> list[dict[str, Any]]:
        """Files with a thousand of something within one another, or after one another."""
        made = []
        tables: dict[str, list[dict[str, Any]]] = good["tables"]
        section, build_up, line = tables["section"][0], tables["build_up"][0], tables["build_up_line"][0]
        adjustment, element = tables["adjustment"][0], tables["element"][0]
        dimension = next(d for d in tables["dimension_line"] if d["figure"] is None)
        numbers = range(1, 1001)
        for change in (
            {"section": [{**section, "parent": at - 1 or None, "title": f"S{at}"} for at in numbers]},
            {
                "build_up": [{**build_up, "name": f"B{at}"} for at in numbers],
                "build_up_line": [{**line, "build_up": at, "nested": at - 1, "resource": None} for at in numbers if at > 1],
            },
            {"adjustment": [{**adjustment, "name": f"A{at}", "base": f"after:A{at - 1}" if at > 1 else "items"} for at in numbers]},
            {
                "element": [{**element, "mark": f"E{at}", "source": "plain-length", "inputs": {}} for at in numbers],
                "dimension_line": [{**dimension, "element": at, "taken_from": at - 1, "taken_output": "net"} for at in numbers if at > 1],
                "figure": [],
            },
        ):  # fmt: skip
            document = copy.deepcopy(good)
            document["tables"] |= change
            made.append(document)
        return made

    def project_file(self) -> Answer:
        if self.deep and self.dice.random() < 0.05:
            content, said = json.dumps(self.deep.pop()).encode(), "a thousand within one another"
        elif self.dice.random() < 0.2:
            whole = bytearray(json.dumps(self.good).encode())
            at = self.dice.randrange(len(whole))
            whole[at : at + self.dice.randrange(0, 5)] = self.dice.choice(
                (b"", b"NaN", b"Infinity", b"-", b"{", b"\xff", b'"', b"1e999")
            )
            content, said = bytes(whole), f"bytes at {at}"
        else:
            document = copy.deepcopy(self.good)
            said = AnyFile.spoil(self, document, self.dice)  # type: ignore[arg-type]
            content = json.dumps(document).encode()
        answer = self.sent("POST", "/api/projects/from-file", data=content, content_type="application/json")
        if answer.status_code == 200:
            address = f"/api/projects/{answer.json['id']}"
            for path in (
                "",
                "/bill",
                "/checks",
                "/elements",
                "/build-ups",
                "/resources",
                "/drawings",
                "/makeups",
                "/walk/bill",
            ):
                read = self.sent("GET", address + path)
                if read.status_code >= 500:
                    return f"project file with {said}, then GET {path}", read
            self.sent("POST", f"{address}/delete", json={"name": answer.json["name"]})
        return f"project file with {said}", answer

    def sweep(self, cases: int) -> tuple[Counter[str], list[str]]:
        """Send so many; how many of each kind and status, and what failed or said nothing."""
        counted, failed = Counter[str](), list[str]()
        for number in range(cases):
            kind, case = self.dice.choice(self.kinds)
            told, answer = case()
            counted[f"{kind}, {answer.status_code}"] += 1
            if "/api/health" in told:
                continue  # tells how the workers are, and nobody works here
            if answer.status_code >= 500 and answer.status_code != 503:
                failed.append(f"{number}: {told}: {answer.status_code}")
            elif (
                answer.status_code >= 400 and answer.status_code not in (404, 405)
            ) or answer.status_code == 503:
                problem = answer.get_json(silent=True) or {}
                if not str(problem.get("title", "")).strip() or problem.get("status") != answer.status_code:
                    failed.append(f"{number}: {told}: {answer.status_code} says {answer.text[:80]!r}")
        return counted, failed

    def check_whole(self) -> None:
        """The project that all of it was aimed at can still be read, and comes back from its file."""
        for path in READABLE:
            answer = self.sent("GET", f"/api/projects/{self.actor.project_id}{path}")
            self.assertEqual(answer.status_code, 200, path)
        scene.taken_in(scene.person(), scene.file_of(self.actor))


def main() -> int:
    cases, seed = (int(word) for word in (*sys.argv[1:], *("10000", "1")[len(sys.argv) - 1 :]))
    sweep = Sweep()
    sweep.begin(seed)
    counted, failed = sweep.sweep(cases)
    sweep.check_whole()
    for what, number in sorted(counted.items()):
        print(f"{what:24} {number:6}")
    print("\n".join(failed[:100]))
    print(f"{sum(counted.values())} cases, {len(failed)} failures")
    return min(len(failed), 1)


if __name__ == "__main__":
    sys.exit(main())
