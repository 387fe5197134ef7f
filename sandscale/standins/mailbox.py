"""The mailbox: stands in for everybody's mail. It takes letters by SMTP, as a relay does, keeps them in a
folder and shows them on a page; nothing leaves the machine.

    python -m sandscale.standins.mailbox FOLDER SMTP_PORT PAGE_PORT
"""

from __future__ import annotations

import html
import mailbox
import re
import sys
from email import message_from_bytes, policy
from email.message import EmailMessage
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any

from aiosmtpd.controller import Controller
from aiosmtpd.smtp import Envelope

HOST = "127.0.0.1"
LARGEST = 25 * 1024 * 1024
STYLE = """
body { max-width: 760px; margin: 24px auto; padding: 0 16px; background: #faf7f1; color: #23211d;
  font: 14px/1.5 "IBM Plex Sans", sans-serif; }
article { margin: 12px 0; padding: 10px 14px; border: 1px solid #e3dccf; background: #fff; }
dl { display: grid; grid-template-columns: 70px 1fr; margin: 0 0 8px; } dt { color: #6a645a; } dd { margin: 0;
} pre { margin: 0; white-space: pre-wrap; font: inherit; } a { color: #1d6670; overflow-wrap: anywhere; }
"""


class Mailbox:
    """Letters in a folder, and the SMTP server that takes them in."""

    def __init__(self, folder: Path, port: int) -> None:
        self.box = mailbox.Maildir(str(folder), create=True)
        self._server = Controller(self, hostname=HOST, port=port, data_size_limit=LARGEST)

    def start(self) -> None:
        """Begin to take letters."""
        self._server.start()

    def stop(self) -> None:
        """Take no more letters."""
        self._server.stop()

    async def handle_DATA(self, _server: Any, _session: Any, envelope: Envelope) -> str:
        """Keep a letter, with the addresses it was really handed over for."""
        letter = message_from_bytes(bytes(envelope.content or b""))
        letter["X-Delivered-To"] = ", ".join(envelope.rcpt_tos)
        self.box.add(mailbox.MaildirMessage(letter))
        return "250 Kept"

    def letters(self, to: str = "") -> list[EmailMessage]:
        """The letters, the newest first; of those to one address where it is given."""
        kept = sorted(self.box.iteritems(), key=lambda each: (each[1].get_date(), each[0]), reverse=True)
        read = [message_from_bytes(bytes(m), policy=policy.default) for _, m in kept]
        return [m for m in read if isinstance(m, EmailMessage) and (not to or m["X-Delivered-To"] == to)]


def page(letters: list[EmailMessage]) -> str:
    """The letters as a page."""
    shown = "".join(_shown(letter) for letter in letters) or "<p>No letters yet.</p>"
    return (
        f"<!doctype html><meta charset=utf-8><title>Mailbox (simulated)</title><style>{STYLE}</style>"
        "<h1>Mailbox</h1><p>This stands in for everybody's mail: nothing here left the machine.</p>" + shown
    )


def _shown(letter: EmailMessage) -> str:
    told = "".join(
        f"<dt>{name}<dd>{html.escape(str(letter[head] or ''))}"
        for name, head in (("To", "X-Delivered-To"), ("Subject", "Subject"), ("Sent", "Date"))
        if letter[head]
    )
    body = letter.get_body(("plain",))
    text = html.escape(str(body.get_content()) if body else "")
    text = re.sub(r"https?://[^\s<>&]+", lambda link: f'<a href="{link[0]}">{link[0]}</a>', text)
    return f"<article><dl>{told}</dl><pre>{text}</pre></article>"


def main() -> None:
    """Take letters and show them until stopped."""
    folder, smtp, port = Path(sys.argv[1]), int(sys.argv[2]), int(sys.argv[3])
    box = Mailbox(folder, smtp)
    box.start()

    class Page(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            content = page(box.letters()).encode()
            self.send_response(200)
            for name, value in (
                ("Content-Type", "text/html; charset=utf-8"), ("Content-Length", str(len(content))),
                ("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'"),
            ):  # fmt: skip
                self.send_header(name, value)
            self.end_headers()
            self.wfile.write(content)

        def log_message(self, *_: Any) -> None:
            pass

    ThreadingHTTPServer((HOST, port), Page).serve_forever()


if __name__ == "__main__":
    main()
