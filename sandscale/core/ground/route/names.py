"""A list of named quantities, as a client has it: what layers are gathered under, kept on a shelf."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from ...documents import from_text
from ...refusals import BadFormula

LARGEST_NAMES = 100_000  # characters
Words = Annotated[str, StringConstraints(max_length=500, strip_whitespace=True, pattern=r"^[^\x00]*$")]
Name = Annotated[str, StringConstraints(max_length=60, strip_whitespace=True, min_length=1)]
Number = Annotated[str, StringConstraints(max_length=40, pattern=r"^(\d+(\.\d+)?)?$")]


class NameEntry(BaseModel):
    """A named quantity: its layers as ``Wearing; Binder``, t/m³, and percent more."""

    model_config = ConfigDict(extra="forbid")

    name: Name
    layers: Words = ""
    density: Number = ""
    extra: Number = ""


class NamesDocument(BaseModel):
    """The list."""

    model_config = ConfigDict(extra="forbid")

    name: Name
    named: Annotated[list[NameEntry], Field(max_length=300)]


def read_names(source: str) -> NamesDocument:
    """A list of names from its text, as a shelf keeps it.

    Raises:
        BadFormula: it is none, or two names are one.
    """
    made = from_text(NamesDocument, source, "list of named quantities", LARGEST_NAMES)
    names = [each.name.lower() for each in made.named]
    if len(set(names)) < len(names):
        raise BadFormula("Two named quantities of the list have one name.", field="source")
    return made
