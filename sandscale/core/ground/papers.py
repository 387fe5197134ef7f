"""What papers of trenches, routes and the whole job may tell, and as what files."""

from __future__ import annotations

from typing import Literal, get_args

PaperPart = Literal["findings", "tables", "plan", "long", "haul", "sections"]
PAPER_PARTS: tuple[PaperPart, ...] = get_args(PaperPart)
PaperFile = Literal["pdf", "xlsx", "csv", "dxf", "zip"]  # the last holds each of the others
PAPER_FILES: tuple[PaperFile, ...] = get_args(PaperFile)
SummedBy = Literal["work", "stage", "stretch"]
