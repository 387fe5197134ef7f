"""Concrete, formwork, excavation, masonry, finishes and mixes: their formulas, which make-ups call by
name, and what needs more than a formula."""

from ..numbers.formula import NamedFormula
from .concrete import CONCRETE_RULES
from .earth import EARTH_RULES
from .masonry import MASONRY_RULES
from .mixes import MIX_RULES

STRUCTURE_RULES: dict[str, NamedFormula] = {
    rule.name: rule for rule in (*CONCRETE_RULES, *EARTH_RULES, *MASONRY_RULES, *MIX_RULES)
}
