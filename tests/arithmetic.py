"""What the arithmetic in a working comes to, worked out anew from its words."""

from __future__ import annotations

import math
import re
import unittest

_ARITHMETIC = re.compile(r"[\d.\u00a0\s+−×/()√π%]*\d[\d.\u00a0\s+−×/()√π%]*")
_FIGURE = re.compile(r"\d[\d\u00a0]*\.?\d*")
_SIGNS = {"\u00a0": "", "×": "*", "−": "-", "√(": "math.sqrt(", "π": "math.pi", " %": "/100", "%": "/100"}


def holds(case: unittest.TestCase, name: str, figures: str, value: float, off: float = 0.02) -> bool:
    """Check that arithmetic comes to a value, to the digits it is told with; False where it is words and not arithmetic.

    Args:
        off: how far the value may be rounded off.
    """
    if not _ARITHMETIC.fullmatch(figures):
        return False
    plain = figures
    for sign, python in _SIGNS.items():
        plain = plain.replace(sign, python)
    found = float(eval(plain, {"math": math}))  # only what the pattern lets through
    # Each figure is told to half of its last digit; what is made of several is off by their shares together.
    told = [figure.replace("\u00a0", "") for figure in _FIGURE.findall(figures)]
    share = sum(
        0.5 * 10 ** -len(figure.partition(".")[2]) / max(abs(float(figure)), 1e-3)
        for figure in told
        if "." in figure
    )
    case.assertAlmostEqual(found, value, delta=abs(value) * min(share, 0.2) + off, msg=f"{name}: {figures}")
    return True
