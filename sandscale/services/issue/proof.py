"""What must hold of packages and forms from a project file."""

from __future__ import annotations

from typing import Any

from ...core.refusals import Refusal
from ...formats import bill_workbook
from ...store.models import Bill, FormCell, IssuedPackage, OwnForm
from ..keeping.files import PACKAGE
from ..keeping.proving import refuse_empty
from ..people.accounts import address
from .forms import MOST_CELLS, MOST_FORMS, refuse_untied
from .views import IssuedDocument


def _package(row: dict[str, Any]) -> None:
    refuse_empty(row, "title", "issued_by", "token")
    if row["recipient"] and address(row["recipient"]) != row["recipient"]:
        raise Refusal("It went to no address.")
    if not isinstance(row["contents"], list) or not row["contents"]:
        raise Refusal("It holds nothing.")
    for each in row["contents"]:
        if IssuedDocument(**each).model_dump() != each:
            raise Refusal("It doesn't say what it holds.")


RULES = {
    "issued_package": _package, "own_form": lambda row: refuse_empty(row, "name"), "form_cell": refuse_untied,
}  # fmt: skip


def prove(project_id: int) -> None:
    """A package goes with an issued bill and a file of its kind; a form's file can be read, and each of its
    places is tied once.

    Raises:
        Refusal: something doesn't hold.
    """
    packages = IssuedPackage.those(IssuedPackage.project, [project_id])
    for row in packages:
        if Bill.get_by_id(row.bill_id).kind != "issued" or row.file.media_type != PACKAGE:
            raise Refusal(f"Package {row.number} lacks its bill or its file.")
    if len({row.token for row in packages}) < len(packages):
        raise Refusal("A package was issued twice.")
    forms = OwnForm.those(OwnForm.project, [project_id])
    if len(forms) > MOST_FORMS:
        raise Refusal(f"It has more than {MOST_FORMS} forms.")
    for form in forms:
        bill_workbook.read(bytes(form.file.content), form.file.name)
        places = [cell.place.casefold() for cell in FormCell.those(FormCell.form, [form.id])]
        if len(set(places)) < len(places) or len(places) > MOST_CELLS:
            raise Refusal(f"A cell of “{form.name}” is tied twice, or too many are.")
