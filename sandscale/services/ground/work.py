"""What jobs do for the ground: write proofs and papers."""

from __future__ import annotations

from ..keeping.jobs import Work
from . import papers, proof_package

KINDS: dict[str, Work] = {proof_package.KIND: proof_package.work_of, papers.KIND: papers.work_of}
