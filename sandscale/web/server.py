"""Serving: gunicorn with processes that each have threads."""

from __future__ import annotations

from typing import Any

from flask import Flask
from gunicorn.app.base import BaseApplication

from .app import create_app

THREADS = 4
TIMEOUT = 120  # seconds a process may not answer its master


def serve(address: str, processes: int) -> None:
    """Serve the application until told to stop."""
    _Server(
        {
            "bind": address, "workers": processes, "threads": THREADS, "timeout": TIMEOUT,
            "loglevel": "warning",
            "control_socket_disable": True,
        }
    ).run()  # fmt: skip


class _Server(BaseApplication):  # type: ignore[misc]
    def __init__(self, options: dict[str, Any]) -> None:
        self.options = options
        super().__init__()

    def load_config(self) -> None:
        for name, value in self.options.items():
            self.cfg.set(name, value)

    def load(self) -> Flask:
        return create_app()
