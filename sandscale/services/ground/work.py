"""What jobs do for the ground: write the proof of an earthwork."""

from __future__ import annotations

from ..keeping.jobs import Work
from .proof_package import KIND, work_of

KINDS: dict[str, Work] = {KIND: work_of}
