"""Words that several rooms share, each list once. Those of one room stand there: kinds of items, bases of
prices."""

from __future__ import annotations

from typing import Literal

Stage = Literal[
    "sheets", "measure", "make-ups", "bars", "ground", "prices", "rates", "bill", "order", "issue"
]
Role = Literal["owner", "editor", "viewer"]
JobState = Literal["waiting", "running", "done", "failed", "stopped"]
ChangeKind = Literal["do", "undo", "redo", "worked"]
ChangeState = Literal["done", "undone", "dropped"]
FigureKind = Literal["count", "run", "area"]
RateKind = Literal["rate", "gang", "reference", "banded"]
