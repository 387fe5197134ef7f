"""Documents as data: what people write in a form, files hold and shelves keep, read into a model."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from .refusals import BadEntry, BadFormula

Document = TypeVar("Document", bound=BaseModel)


def from_data(model: type[Document], given: Any, called: str) -> Document:
    """A document from what stands for it in a file or a request.

    Args:
        model: what it is.
        given: as it was parsed.
        called: what it is in a sentence, such as ``kind of trench``.

    Raises:
        BadFormula: it is none; the sentence and the field say where.
    """
    try:
        return model.model_validate(given)
    except (ValidationError, RecursionError) as error:
        place = " → ".join(map(str, error.errors()[0]["loc"])) if isinstance(error, ValidationError) else ""
        says = f"The {called} can't be read at {place}." if place else f"This is no {called}."
        raise BadFormula(says, field=place or "source") from None


def from_text(
    model: type[Document],
    source: str,
    called: str,
    most: int,
    prove: Callable[[Document], Any] = lambda _: None,
) -> Document:
    """A document from its text, as a shelf keeps it.

    Args:
        model: what it is.
        source: the text, JSON.
        called: what it is in a sentence.
        most: the most characters of one.
        prove: refuses one that doesn't hold.

    Raises:
        BadFormula: it is none, or doesn't hold.
    """
    if len(source) > most:
        raise BadFormula(f"The {called} is longer than {most} characters.", field="source")
    try:
        given = json.loads(source)
    except (ValueError, RecursionError):
        raise BadFormula(f"This is no {called}.", field="source") from None
    made = from_data(model, given, called)
    try:
        prove(made)
    except BadEntry as refusal:
        raise BadFormula(refusal.sentence, field=refusal.field, remedy=refusal.remedy) from None
    return made
