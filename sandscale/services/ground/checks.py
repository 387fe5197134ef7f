"""What looks wrong with the ground: doubtful levels nobody has decided about, surfaces that can't be made."""

from __future__ import annotations

from collections.abc import Iterator

from ...core.checks.check import Check
from ...core.ground.decided import CALLED
from ...store.models import GroundSurface, SurfaceMade, SurfaceSurvey, Survey, SurveyLooked
from ..keeping.acting import Actor
from ..keeping.checking import MOST, Place


def _levels(actor: Actor) -> Iterator[Place]:
    """A doubt for each way in which levels of a survey look wrong."""
    fields = (SurveyLooked.survey, SurveyLooked.doubts)
    rows = (
        SurveyLooked.select(*fields, Survey.name)
        .join(Survey)
        .where((SurveyLooked.project == actor.project_id) & (SurveyLooked.undecided > 0))
        .order_by(Survey.position)
        .limit(MOST)
    )
    for row in rows:
        for kind, says, _, undecided in row.doubts:
            if undecided:
                name = CALLED.get(kind, "Can't be read").lower()
                check = Check(
                    "look", f"levels: {name}", f"{row.survey.name}: {says}", f"survey:{row.survey_id}"
                )
                yield check, None, row.survey.name


def _surfaces(actor: Actor) -> Iterator[Place]:
    fields = (SurfaceMade.surface, SurfaceMade.says, SurfaceMade.findings)
    rows = (
        SurfaceMade.select(*fields, GroundSurface.name)
        .join(GroundSurface)
        .where(SurfaceMade.project == actor.project_id)
        .limit(MOST)
    )
    for row in rows:
        ref = f"surface:{row.surface_id}"
        # A surface to be typed says so by itself: it is told once it has levels.
        levels = SurveyLooked.select(SurveyLooked.id).join(
            SurfaceSurvey, on=(SurfaceSurvey.survey == SurveyLooked.survey)
        )
        mine = (SurfaceSurvey.surface == row.surface_id) & (SurveyLooked.number > 0)
        if row.says and levels.where(mine).exists():
            says = f"Surface {row.surface.name} can't be made: {row.says}"
            yield Check("stop", "no surface", says, ref), None, row.surface.name
        for says, _, wrong, code in row.findings:
            if wrong and code != "undecided":  # which the survey's own check tells
                yield Check("look", "surface", f"{row.surface.name}: {says}", ref), None, row.surface.name


CHECKS = (_levels, _surfaces)
