"""What the stages bring: their nodes of the graph, their steps of the walk, their checks.

A stage is a folder beside this one; whatever it has of such a part is found by the part's name.
"""

from __future__ import annotations

import pkgutil
from collections.abc import Sequence
from functools import lru_cache
from importlib import import_module
from importlib.util import find_spec
from types import ModuleType

PACKAGE = __package__.rpartition(".")[0]


@lru_cache(maxsize=16)
def parts(name: str) -> Sequence[ModuleType]:
    """The modules of that name in the stages' folders, in the order of the folders' names."""
    folders = sorted(
        found.name for found in pkgutil.iter_modules(import_module(PACKAGE).__path__) if found.ispkg
    )
    wanted = [f"{PACKAGE}.{folder}.{name}" for folder in folders]
    return [import_module(module) for module in wanted if find_spec(module)]
