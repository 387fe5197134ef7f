"""Whoever sends slowly, or never ends, holds nobody up: without a proxy in front, and with the one that ships."""

from __future__ import annotations

import http.client
import json
import shutil
import socket
import ssl
import subprocess
import tempfile
import threading
import time
import unittest
from pathlib import Path

from sandscale.settings import HSTS, PROXIES, SECURE_COOKIES
from sandscale.store.database import connected
from sandscale.store.models import SignInTry
from sandscale.web.server import Turns
from tests import scene
from tests.served import Served, free_port

CONFIGURATION = Path(__file__).parents[2] / "proxy" / "nginx.conf"
HALVES = (
    b"POST /api/session HTTP/1.1\r\nHost: x\r\nX-Slow",
    b"POST /api/session HTTP/1.1\r\nHost: x\r\nContent-Length: 900\r\n\r\n{",
)


class InTurn(unittest.TestCase):
    def test_requests_take_turns_and_the_next_does_not_wait_for_a_slow_one(self) -> None:
        turns, inside, most = Turns(), [0], [0]
        go_on = threading.Event()

        def quick() -> None:
            with turns:
                inside[0] += 1
                most[0] = max(most[0], inside[0])
                time.sleep(0.01)
                inside[0] -= 1

        def slow() -> None:
            with turns:
                go_on.wait(20)

        for slow_ones in (0, 2):
            waiting = [threading.Thread(target=slow) for _ in range(slow_ones)]
            asking = [threading.Thread(target=quick) for _ in range(10)]
            for one in (*waiting, *asking):
                one.start()
            for one in asking:
                one.join(20)
            self.assertEqual([one.is_alive() for one in asking], [False] * 10)
            self.assertEqual(most[0], 1)
            go_on.set()
            for one in waiting:
                one.join()
        self.assertEqual(turns.begun, {})


class SlowClients(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        scene.prepare()
        cls.served = Served(
            working=False, QUIET="1", **{PROXIES: "1", SECURE_COOKIES: "1", HSTS: "600"}
        ).wait()
        cls.addClassCleanup(cls.served.stop)

    def hold(self, port: int, number: int, context: ssl.SSLContext | None = None) -> None:
        """Connections that send half a request each, and stay."""
        for at in range(number):
            plain = socket.create_connection(("127.0.0.1", port), timeout=10)
            held = context.wrap_socket(plain, server_hostname="sand.example") if context else plain
            held.sendall(HALVES[at % 2])
            self.addCleanup(held.close)

    def test_half_sent_requests_stop_nobody(self) -> None:
        self.hold(self.served.port, 300)
        for _ in range(20):
            asked = http.client.HTTPConnection("127.0.0.1", self.served.port, timeout=10)
            asked.request("GET", "/api/session")
            self.assertEqual(asked.getresponse().status, 200)
            asked.close()

    def test_what_is_no_request_or_too_large_is_told_so(self) -> None:
        for sent, status in (
            (b"GARBAGE\r\n\r\n", 400), (b"GET / HTTP/1.1\r\nX: " + b"x" * 40_000, 431),
            (b"POST /api/session HTTP/1.1\r\nHost: x\r\nContent-Length: 50000000\r\n\r\n", 413),
            (b"POST /api/session HTTP/1.1\r\nHost: x\r\nContent-Length: -1\r\n\r\n", 400),
            (b"POST /api/projects/1/drawings HTTP/1.1\r\nHost: x\r\nContent-Length: 900000000\r\n\r\n", 413),
        ):  # fmt: skip
            with socket.create_connection(("127.0.0.1", self.served.port), timeout=10) as asked:
                asked.sendall(sent)
                head, _, body = asked.makefile("rb").read().partition(b"\r\n\r\n")
            self.assertIn(f" {status} ".encode(), head.splitlines()[0])
            problem = json.loads(body)
            self.assertEqual(problem["status"], status)
            self.assertTrue(problem["title"].endswith("."))

    def test_the_proxy_that_ships_takes_the_slow_the_large_and_tells_where_people_come_from(self) -> None:
        folder, port = Path(tempfile.mkdtemp(dir="/tmp")), free_port()
        folder.chmod(0o777)  # the proxy's workers are another user
        self.addCleanup(shutil.rmtree, folder)
        key = ["-newkey", "rsa:2048", "-nodes", "-keyout", str(folder / "key"), "-out", str(folder / "pem")]
        named = ["-days", "2", "-subj", "/CN=sand.example", "-addext", "subjectAltName=DNS:sand.example"]
        subprocess.run(["openssl", "req", "-x509", *key, *named], check=True, capture_output=True)
        written = CONFIGURATION.read_text("utf-8")
        for shipped, here in (
            ("listen 443", f"listen 127.0.0.1:{port}"), ("/etc/ssl/sand.example.pem", str(folder / "pem")),
            ("/etc/ssl/sand.example.key", str(folder / "key")), ("127.0.0.1:8610", f"127.0.0.1:{self.served.port}"),
        ):  # fmt: skip
            self.assertIn(shipped, written)
            written = written.replace(shipped, here)
        paths = "".join(
            f"{name}_temp_path {folder}/{name};"
            for name in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
        )
        whole = f"pid {folder}/pid; error_log {folder}/errors; events {{}} http {{ access_log off; {paths} {written} }}"
        (folder / "nginx.conf").write_text(whole, "utf-8")
        proxy = subprocess.Popen(["/usr/sbin/nginx", "-c", str(folder / "nginx.conf"), "-g", "daemon off;"])
        self.addCleanup(proxy.wait)
        self.addCleanup(proxy.terminate)
        context = ssl.create_default_context(cafile=str(folder / "pem"))
        for _ in range(100):
            try:
                socket.create_connection(("127.0.0.1", port)).close()
                break
            except OSError:
                time.sleep(0.1)
        self.hold(port, 40, context)

        def ask(
            method: str, path: str, body: bytes | None = None, **headers: str
        ) -> http.client.HTTPResponse:
            plain = socket.create_connection(("127.0.0.1", port), timeout=30)
            asked = http.client.HTTPConnection("sand.example")
            asked.sock = context.wrap_socket(plain, server_hostname="sand.example")
            self.addCleanup(asked.close)
            asked.request(method, path, body, {"Content-Type": "application/json", **headers})
            return asked.getresponse()

        answer = ask("GET", "/api/session")
        self.assertEqual(
            (answer.status, answer.headers["Strict-Transport-Security"]),
            (200, "max-age=600; includeSubDomains"),
        )
        with connected():
            email = scene.email_of(scene.person())
        claimed = {"X-Forwarded-For": "203.0.113.9"}
        wrong = json.dumps({"email": email, "password": "not-this-one"}).encode()
        self.assertEqual(ask("POST", "/api/session", wrong, **claimed).status, 401)
        with connected():
            self.assertEqual(
                [t.origin for t in SignInTry.select().where(SignInTry.email == email)], ["127.0.0.1"]
            )
        right = json.dumps({"email": email, "password": scene.PASSWORD}).encode()
        self.assertIn("Secure", ask("POST", "/api/session", right).headers["Set-Cookie"])
        self.assertEqual(
            ask("POST", "/api/projects/from-file", b" " * 30_000_000).status, 401
        )  # taken whole, then refused
        self.assertEqual(ask("POST", "/api/session", b" " * 5_000_000).status, 413)


if __name__ == "__main__":
    unittest.main()
