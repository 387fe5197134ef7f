"""Units, typed entries, rounding, formulas that know units, and the working of a number."""
