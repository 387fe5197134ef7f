"""Formulas: their units, their white list, and that value, notation and spreadsheet say the same."""

from __future__ import annotations

import ast
import math
import re
import unittest
from typing import ClassVar

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from sandscale.core.bars.rules import BAR_RULES
from sandscale.core.numbers.formula import Formula, NamedFormula, in_order, refuse_deeper
from sandscale.core.numbers.units import NUMBER, unit
from sandscale.core.refusals import BadFormula

SCOPE = {
    name: unit(symbol).dimension
    for name, symbol in {"n": "", "a": "m", "b": "m", "area": "m²", "w": "kg", "s": "m"}.items()
}
VALUES = {"n": 4.0, "a": 1.8, "b": 0.5, "area": 3.24, "w": 12.0, "s": 0.15}


def formula(text: str) -> Formula:
    return Formula(text, SCOPE, BAR_RULES, where="test")


class Units(unittest.TestCase):
    def test_results_carry_their_dimension(self) -> None:
        for text, symbol in {
            "n*a*b": "m²", "area*b": "m³", "a/b": "", "a**2 + area": "m²", "sqrt(area)": "m", "w/a": "kg/m", "bar_mass(b)": "kg/m",
            "a if b > 0 else 0": "m", "max(a, b, 0)": "m", "up_to_step(a, 25*mm)": "m", "ceil(a/s)": "", "abs(a - b)": "m", "area - area": "m²",
        }.items():  # fmt: skip
            with self.subTest(text):
                formula(text).expect(unit(symbol).dimension, symbol)

    def test_breaking_the_rules_of_units_is_refused_with_both_named(self) -> None:
        for text, said in {
            "a + area": "adds a length (m) and an area (m²)",
            "area - a*b*b": "subtracts an area (m²) and a volume (m³)",
            "a if a > area else b": "compares a length (m) and an area (m²)",
            "a if n > 0 else area": "chooses between a length (m) and an area (m²)",
            "max(a, w)": "compares a length (m) and a mass (kg)",
            "ceil(a)": "rounds a length (m) to whole units",
            "a + 0.5": "adds a length (m) and a number",
        }.items():
            with self.subTest(text), self.assertRaises(BadFormula) as refused:
                formula(text)
            self.assertIn(said, refused.exception.sentence)

    def test_a_result_of_the_wrong_unit_names_both(self) -> None:
        with self.assertRaisesRegex(BadFormula, r"gives an area \(m²\), but its unit is m³: a volume \(m³\)"):
            formula("a * b").expect(unit("m³").dimension, "m³")


class WhiteList(unittest.TestCase):
    def test_what_a_formula_cannot_hold_is_refused(self) -> None:
        for text in (
            "__import__('os').system('x')", "a.__class__", "[a for a in (1,)]", "lambda: 1", "a := 1", "'a'", "True", "a[0]", "f'{a}'", "exec('1')", "a < b < n",
            "a if", "a +", "", "a; b", "1e400", "9**9**9", "a**n", "min()", "sqrt(a, b)", "max(*a)", "max(a, key=b)", "unknown(a)", "missing + a", "(" * 60 + "a" + ")" * 60 + "+" * 700, "-" * 100 + "a",
        ):  # fmt: skip
            with self.subTest(text[:40]), self.assertRaises(BadFormula):
                formula(text)

    @given(st.text(alphabet="abnws()+-*/.<>= if else0123456789,", max_size=60))
    def test_any_text_is_a_formula_or_refused(self, text: str) -> None:
        try:
            formula(text)
        except BadFormula:
            return

    def test_what_would_grow_beyond_measure_is_refused_before_it_is_written_out(self) -> None:
        wide = NamedFormula("wide", ("a",), "+".join(["a"] * 30), "test")
        deep = NamedFormula("deep", ("a",), "(" * 20 + "a" + "+1)" * 20, "test")
        known = {"wide": wide, "deep": deep}
        for text, said in (
            ("wide(" * 12 + "x" + ")" * 12, "too long once the formulas it calls are written out"), ("deep(" * 12 + "x" + ")" * 12, "too long once"),
            ("not " * 900 + "x", "nested too deep"), ("-" * 900 + "x", "nested too deep"), ("max(" * 80 + "x" + ")" * 80, "nested too deep"),
            ("x" + "+x" * 1900, "nested too deep"), ("max(" + ",".join(["x"] * 1900) + ")", "is too long"),
        ):  # fmt: skip
            with self.subTest(said), self.assertRaisesRegex(BadFormula, said):
                Formula(text, {"x": NUMBER}, known, where="test")
        self.assertEqual(Formula("wide(x)", {"x": NUMBER}, known, where="test").value({"x": 1.0}), 30)

    def test_what_is_no_number_comes_to_none_and_never_to_an_exception(self) -> None:
        for text in (
            "x*(((9**6)**6)**6)**6",
            "x*0**-1",
            "x*(q-8)**0.5",
            "x/0",
            "sqrt(0-x)",
            "ceil(x/0)",
            "up_to_step(x, 0*q/0)",
        ):
            for value in (2.0, np.array([2.0, 3.0])):
                result = Formula(text, {"x": NUMBER, "q": NUMBER}, where="test").value({"x": value, "q": 1.0})
                self.assertFalse(np.isfinite(np.asarray(result, dtype=float)).any(), text)
                self.assertFalse(np.iscomplexobj(result), text)

    def test_a_chain_of_names_has_an_end_and_a_long_one_is_no_trouble(self) -> None:
        chain = {f"n{at}": [f"n{at - 1}"] for at in range(1, 5000)}
        self.assertEqual(in_order(chain, "Names")[:2], ["n1", "n2"])
        with self.assertRaisesRegex(BadFormula, "chain of more than 60"):
            refuse_deeper(chain, "Names", 60)
        with self.assertRaisesRegex(BadFormula, "in a loop: n1 → n4999"):
            in_order({**chain, "n1": ["n4999"]}, "Names")

    def test_a_loop_is_refused_with_its_path(self) -> None:
        with self.assertRaisesRegex(BadFormula, "a → b → c → a"):
            in_order({"a": ["b"], "b": ["c"], "c": ["a"], "d": []}, "The derived values")
        self.assertEqual(in_order({"a": ["b", "given"], "b": []}, "x"), ["b", "a"])


def texts() -> st.SearchStrategy[str]:
    """Formulas of any build over plain numbers."""
    leaves = st.sampled_from(["p", "q", "r", "2", "0.5", "3"])

    def grown(inner: st.SearchStrategy[str]) -> st.SearchStrategy[str]:
        two = st.tuples(inner, inner)
        return st.one_of(
            st.tuples(inner, st.sampled_from(["+", "-", "*", "/"]), inner).map(
                lambda t: f"({t[0]} {t[1]} {t[2]})"
            ),
            inner.map(lambda t: f"(-{t})"),
            st.tuples(inner, st.sampled_from(["2", "3"])).map(lambda t: f"({t[0]})**{t[1]}"),
            st.tuples(st.sampled_from(["min", "max"]), two).map(lambda t: f"{t[0]}({t[1][0]}, {t[1][1]})"),
            st.tuples(inner, inner, st.sampled_from(["<", ">", "<=", ">="]), inner, inner).map(
                lambda t: f"({t[0]} if {t[1]} {t[2]} {t[3]} else {t[4]})"
            ),
        )

    return st.recursive(leaves, grown, max_leaves=8)


class AnyFormula(unittest.TestCase):
    """One tree read four ways: as Python reads it, in bulk, in trade notation, in a spreadsheet."""

    SCOPE: ClassVar = dict.fromkeys("pqr", unit("").dimension)
    amounts = st.integers(-40, 40).map(lambda n: n / 8)

    @given(texts(), st.lists(st.tuples(amounts, amounts, amounts), min_size=1, max_size=4))
    def test_all_four_say_the_same(self, text: str, rows: list[tuple[float, float, float]]) -> None:
        read = Formula(text, self.SCOPE, where="test")
        bulk = np.broadcast_to(
            read.value({name: np.array([row[at] for row in rows]) for at, name in enumerate("pqr")}),
            (len(rows),),
        )
        for row, value in zip(rows, bulk, strict=True):
            values = dict(zip("pqr", row, strict=True))
            try:
                expected = float(eval(text, {"min": min, "max": max, **values}))
            except ZeroDivisionError:
                # A choice may leave the division out, and one division may undo another.
                if text.count("/") == 1 and not re.search("if|min|max", text):
                    self.assertFalse(np.isfinite(value), text)
                continue
            if abs(expected) > 1e9:
                continue
            self.assertAlmostEqual(float(value), expected, delta=1e-9 * max(1, abs(expected)))
            self.assertAlmostEqual(
                spreadsheet(read.in_spreadsheet({name: f"({amount!r})" for name, amount in values.items()})),
                expected,
                delta=1e-6 * max(1, abs(expected)),
            )
            figures = read.arithmetic(values, {})[1]
            if "min" not in text and "max" not in text:
                plain = (
                    figures.replace("²", "**2")
                    .replace("³", "**3")
                    .replace("×", "*")
                    .replace("−", "-")
                    .replace("\u00a0", "")
                )
                self.assertAlmostEqual(
                    float(eval(plain)),
                    expected,
                    delta=1e-6 * max(1, abs(expected)),
                    msg=f"{text} told as {figures}",
                )


class Values(unittest.TestCase):
    def test_columns_compute_as_single_values_do(self) -> None:
        columns = {**VALUES, "a": np.array([1.8, 0.0, 2.4]), "b": np.array([0.5, 0.5, 0.0])}
        for text in (
            "n*a*b",
            "ceil((a - 0*m)/s) + 1",
            "a if a > b else b",
            "min(a, b)*n",
            "1 if a > 0 and b > 0 else 0",
            "bar_mass(b)",
        ):
            bulk = np.broadcast_to(formula(text).value(columns), (3,))
            for at in range(3):
                single = formula(text).value({**VALUES, "a": columns["a"][at], "b": columns["b"][at]})
                self.assertAlmostEqual(float(bulk[at]), float(single), msg=text)

    def test_steps_are_guarded_against_the_float(self) -> None:
        for text, value in {"ceil(18.0/1.5)": 12, "ceil(0.6/0.2)": 3, "floor(0.6/0.2)": 3, "ceil(18.4/1.5)": 13, "floor(-0.5)": -1, "up_to_step(2.336, 0.025)": 2.35, "up_to_step(2.35, 0.025)": 2.35, "up_to_step(2.336, 0)": 2.336}.items():  # fmt: skip
            with self.subTest(text):
                self.assertAlmostEqual(float(formula(text).value({})), value)

    def test_division_by_zero_is_no_number_rather_than_a_crash(self) -> None:
        self.assertFalse(math.isfinite(float(formula("a / (b - b)").value(VALUES))))


class Notation(unittest.TestCase):
    LABELS = {"a": "length", "b": "width", "n": "times", "s": "spacing"}

    def test_the_arithmetic_is_set_in_trade_notation(self) -> None:
        for text, names, figures in (
            ("n*a*b", "times × length × width", "4 × 1.80 × 0.50"),
            ("a - (b - s)", "length − (width − spacing)", "1.80 − (0.50 − 0.15)"),
            ("a*b/(n*s)", "length × width / (times × spacing)", "1.80 × 0.50 / (4 × 0.15)"),
            ("pi/4*b**2", "π / 4 × width²", "π / 4 × 0.50²"),
            ("a + 25*mm", "length + 25 mm", "1.80 + 25 mm"),
            ("ceil(a/s) + 1", "round up (length / spacing) + 1", "round up (1.80 / 0.15) + 1"),
            ("a if a > b else b", "length", "1.80"),
            ("-a + b", "−length + width", "−1.80 + 0.50"),
        ):
            with self.subTest(text):
                self.assertEqual(formula(text).arithmetic(VALUES, self.LABELS), (names, figures))

    @given(st.floats(0.1, 50), st.floats(0.1, 50), st.floats(0.05, 2))
    def test_the_spreadsheet_formula_gives_the_same_value(self, a: float, b: float, s: float) -> None:
        for text in (
            "n*(a + b)*2 - a",
            "ceil(a/s) + floor(b/s)",
            "a if a > b else b*2",
            "sqrt(a*b)",
            "max(a, b, s) - min(a, b)",
            "up_to_step(a, s)",
            "bar_mass(s)*a",
        ):
            values = {**VALUES, "a": a, "b": b, "s": s}
            self.assertAlmostEqual(
                spreadsheet(formula(text).in_spreadsheet({k: repr(v) for k, v in values.items()})),
                float(formula(text).value(values)),
                places=6,
            )


def spreadsheet(text: str) -> float:
    """A spreadsheet formula over plain numbers, worked out by Python."""

    def up(value: float, _digits: float) -> float:
        return math.copysign(math.ceil(abs(value)), value)

    def down(value: float, _digits: float) -> float:
        return math.copysign(math.floor(abs(value)), value)

    names = {
        "ROUNDUP": up,
        "ROUNDDOWN": down,
        "ROUND": lambda v, d: round(v, int(d)),
        "IF": lambda c, t, f: t if c else f,
        "MIN": min,
        "MAX": max,
        "SQRT": math.sqrt,
        "PI": lambda: math.pi,
    }
    text = re.sub(r"(?<![<>=])=(?!=)", "==", text).replace("^", "**")
    return float(eval(compile(ast.parse(text, mode="eval"), "sheet", "eval"), {"__builtins__": {}}, names))


if __name__ == "__main__":
    unittest.main()
