"""The proof of an earthwork in one package: PDF, workbook with live formulas, and drawing."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Sequence

from ...core.ground import earthwork as core
from ...core.measurers.earthwork import METHOD_WORDS
from ...core.numbers.entry import as_typed
from ...core.refusals import BadEntry
from ...reports import earthwork_dxf, earthwork_pdf, earthwork_xlsx
from ...reports.earthwork import EarthDocument
from ...reports.measured import unit
from ...store.models import Earthwork, GroundSurface, Job, Project, SurfaceSurvey, Survey
from ..keeping.acting import Actor
from ..keeping.jobs import Outcome, Progress, reader_of
from ..keeping.project_file import file_name
from .actions.earthworks import earthwork_of
from .entered import kept
from .reading.earthworks import cells_of, grid_of, names_of, rows_of
from .reading.surfaces import fitting
from .surfaces import last_made
from .surveys import last_looked

PER_PAGE = (1, 2, 3, 4, 6, 8)
KIND = "ground_proof"


def package(
    actor: Actor, element_id: int, parts: Sequence[str], per_page: int, progress: Progress
) -> tuple[str, bytes]:
    """The package of an earthwork as it last came out; gives its name and bytes.

    Args:
        parts: what it holds; all of it where none is named.
        per_page: how many sections stand on a page.

    Raises:
        BadEntry: it was never worked out.
    """
    document = document_of(actor, element_id, parts, per_page)
    progress(0.15)
    name = file_name(f"{document.project} {document.title}")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr(
            f"{name}.pdf", earthwork_pdf.write(document, lambda done: progress(0.15 + done * 0.4))
        )
        packed.writestr(
            f"{name}.xlsx", earthwork_xlsx.write(document, lambda done: progress(0.55 + done * 0.35))
        )
        packed.writestr(f"{name}.dxf", earthwork_dxf.write(document))
    return f"{name}.zip", out.getvalue()


def document_of(actor: Actor, element_id: int, parts: Sequence[str] = (), per_page: int = 4) -> EarthDocument:
    """All that the proof of an earthwork tells.

    Raises:
        BadEntry: it was never worked out, or its grid can't be laid.
    """
    row = earthwork_of(actor, element_id)
    made, project = kept(element_id), Project.get_by_id(actor.project_id)
    if made is None or row.ground_id is None:
        raise BadEntry(
            f"{row.element.mark} has no volumes yet.", field="element", remedy="Wait until it is worked out."
        )
    work, rows = rows_of(row)
    ground = last_made(row.ground_id)
    west, south, east, north = work.footprint.bounds
    names = names_of(row)
    chosen = frozenset(part for part in core.PROOF_PARTS if not parts or part in parts)
    margin = max(east - west, north - south) * 0.2
    near = [
        line
        for line in ground.contours(fitting(ground.highest - ground.lowest))
        if line.line[:, 0].min() < east + margin and line.line[:, 0].max() > west - margin
    ]
    return EarthDocument(
        project=project.name, client=project.client, mark=row.element.mark, name=row.element.description,
        told=_told(row, made), reckoned=made, work=work, rings=_rings(row), contours=near,
        cells=cells_of(row),
        rows=rows, names=names,
        sections=[core.row_section(work, rows, at) for at in range(len(rows.sections))],
        findings=[says for _, says, *_ in row.element.findings],
        decided=list(_decided(row)), parts=chosen, per_page=per_page if per_page in PER_PAGE else 4,
        zero_lines=work.between.zero_lines,
    )  # fmt: skip


def _told(row: Earthwork, made: core.Reckoned) -> list[tuple[str, str]]:
    _, angle = grid_of(row)
    found = [("Ground", GroundSurface.get_by_id(row.ground_id).name)]
    for at, each in enumerate(row.formations, start=1):
        how = f"level {as_typed(each.level, 'm')} {unit('m')}" if each.surface_id is None else "a surface"
        batters = [
            f"batter in {side} {text}"
            for side in ("cut", "fill")
            if (text := getattr(each, f"{side}_batter"))
        ]
        found.append((each.name or f"Formation {at}", ", ".join([how, *batters])))
    found += [
        ("Grid", f"{as_typed(row.spacing, 'm')} {unit('m')} at {angle:g}°; {row.rule} between sections"),
        ("Billed by", METHOD_WORDS[made.method]),
        ("Soil", f"bulking {made.soil.bulking:g}, compacted {made.soil.compacted:g}"),
    ]
    return found


def _rings(row: Earthwork) -> list[tuple[str, list[tuple[float, float]]]]:
    found = []
    for part in (*row.formations, *row.classes, *row.stages):
        if part.outline:
            found.append((part.name, [(corner[0], corner[1]) for corner in part.outline]))
    return found


def _decided(row: Earthwork) -> list[str]:
    """What was decided about the levels that the ground is made of."""
    said = []
    surveys = SurfaceSurvey.column(SurfaceSurvey.survey, SurfaceSurvey.surface, [row.ground_id])
    for survey in Survey.those(Survey.id, surveys, Survey.position):
        seen = last_looked(survey)
        if seen is None:
            continue
        looked, _ = seen
        number, used = len(looked.survey.points), int(looked.usable.sum())
        said.append(f"Survey {survey.name}: {used} of {number} levels used.")
        said += [f"{survey.name}: {doubt.says}" for doubt in looked.doubts]
        said += [f"{survey.name}: {told}" for told in looked.told]
    return said


def work_of(job: Job, progress: Progress) -> Outcome:
    """A job's work: write the package it was asked for."""
    given = job.arguments
    return package(
        reader_of(job), given["element"], given.get("parts", ()), given.get("per_page", 4), progress
    )
