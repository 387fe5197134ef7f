"""What looks wrong with prices."""

from __future__ import annotations

from collections.abc import Iterator

from peewee import fn

from ...core.checks.quoted import quoted
from ...core.findings import Finding
from ...store.models import BuildUpLine, Resource
from ..keeping.acting import Actor
from ..keeping.checking import MOST, Place


def _prices(actor: Actor) -> Iterator[Place]:
    used = BuildUpLine.column(BuildUpLine.resource, BuildUpLine.project, [actor.project_id])
    for row in (
        Resource.select()
        .where((Resource.project == actor.project_id) & (fn.jsonb_array_length(Resource.findings) > 0))
        .limit(MOST)
    ):
        for says, wrong, code, numbers in row.findings:
            finding = Finding(says, wrong=wrong, code=code, numbers=tuple(numbers))
            yield quoted(row.name, finding, f"resource:{row.id}", used=row.id in used), row.id, row.name


CHECKS = (_prices,)
