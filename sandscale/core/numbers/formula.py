"""Formulas that know units: parsed from a white list, checked once, then run on plain SI numbers.

A formula is a Python-like expression over named values: ``times * length * width * height``,
``ceil((width - 2*cover) / spacing) + 1``, ``a if b > 0 else c``. One parsed tree gives the value (in
bulk, on arrays), the arithmetic in trade notation and the spreadsheet formula, so they can't disagree.
"""

from __future__ import annotations

import ast
import math
import operator
import re
from collections.abc import Callable, Iterable, Iterator, Mapping
from copy import deepcopy
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from pint.util import UnitsContainer

from ..refusals import BadFormula
from .rounding import ceil_guarded, floor_guarded, nearest_step, up_to_step
from .systems import METRIC, System
from .units import NUMBER, kind_of, unit
from .working import shown

Dimension = UnitsContainer | None  # None: a literal zero, which is like anything
Values = Mapping[str, Any]

_LONGEST, MOST_NODES, _DEEPEST, _DEEPEST_WRITTEN_OUT = 4000, 2000, 60, 150
_UNITS = ("m", "mm", "m2", "m3", "kg", "t", "l", "nr")
CONSTANTS: Mapping[str, UnitsContainer] = {
    "pi": NUMBER,
    "deg": NUMBER,
    **{name: unit(name).dimension for name in _UNITS},
}
_SIGN_OF = {"pi": "π", "deg": "°", **{name: unit(name).symbol for name in _UNITS}}


@lru_cache(maxsize=4)
def _constants(system: System) -> Mapping[str, float]:
    """What each constant is in a system's base units."""
    return {"pi": math.pi, "deg": math.pi / 180, **{name: system.size(name) for name in _UNITS}}


# Each: words in a working, what it does to values, how a spreadsheet writes it ({0}, {1} are the arguments).
_PRIMITIVES: Mapping[str, tuple[str, Callable[..., Any], str]] = {
    "ceil": ("round up", ceil_guarded, "ROUNDUP(ROUND({0},9),0)"),
    "floor": ("round down", floor_guarded, "ROUNDDOWN(ROUND({0},9),0)"),
    "up_to_step": ("up to step", up_to_step, "IF({1}=0,{0},ROUNDUP(ROUND(({0})/({1}),9),0)*({1}))"),
    "nearest": ("to the nearest", nearest_step, "IF({1}=0,{0},ROUND(({0})/({1}),0)*({1}))"),
    "min": ("least of", lambda *a: np.minimum.reduce(np.broadcast_arrays(*a)), "MIN({all})"),
    "max": ("greatest of", lambda *a: np.maximum.reduce(np.broadcast_arrays(*a)), "MAX({all})"),
    "sqrt": ("√", np.sqrt, "SQRT({0})"),
    "abs": ("size of", np.abs, "ABS({0})"),
    "sin": ("sin", np.sin, "SIN({0})"),
    "cos": ("cos", np.cos, "COS({0})"),
    "tan": ("tan", np.tan, "TAN({0})"),
    "asin": ("asin", np.arcsin, "ASIN({0})"),
    "acos": ("acos", np.arccos, "ACOS({0})"),
    "atan": ("atan", np.arctan, "ATAN({0})"),
}
_ANGLES = ("sin", "cos", "tan", "asin", "acos", "atan")  # of plain numbers: radians, as in 30*deg
_ARGUMENTS = {
    "ceil": 1,
    "floor": 1,
    "up_to_step": 2,
    "nearest": 2,
    "sqrt": 1,
    "abs": 1,
    **dict.fromkeys(_ANGLES, 1),
}
# Signs as people write them, and what stands for them.
_WRITTEN = (
    ("×", "*"), ("·", "*"), ("÷", "/"), ("−", "-"), ("^", "**"), ("²", "**2"), ("³", "**3"), ("≤", "<="),
    ("≥", ">="), ("≠", "!="), ("π", "pi"), ("°", "*deg"),
)  # fmt: skip
# A share: 5% is 5/100. What goes on after the sign would be a remainder, which nobody means.
_SHARE = re.compile(r"(\d+(?:\.\d*)?|\.\d+)\s*%(?!\s*[\w.(])")

_BINARY: Mapping[type[ast.operator], tuple[Callable[[Any, Any], Any], str, int]] = {
    ast.Add: (operator.add, "+", 1),
    ast.Sub: (operator.sub, "−", 1),
    ast.Mult: (operator.mul, "×", 2),
    ast.Div: (np.divide, "/", 2),
    ast.Pow: (np.power, "^", 4),
}
_COMPARE: Mapping[type[ast.cmpop], tuple[Callable[[Any, Any], Any], str, str]] = {
    ast.Lt: (np.less, "<", "<"),
    ast.LtE: (np.less_equal, "≤", "<="),
    ast.Gt: (np.greater, ">", ">"),
    ast.GtE: (np.greater_equal, "≥", ">="),
    ast.Eq: (np.equal, "=", "="),
    ast.NotEq: (np.not_equal, "≠", "<>"),
}
_SHEET_SIGN = {"−": "-", "×": "*", "+": "+", "/": "/", "^": "^"}


@dataclass(frozen=True)
class NamedFormula:
    """A formula with parameters that other formulas, named ones too, may call by name; calls are written out
    in place.

    Attributes:
        name: what it is called by, such as ``bar_mass``.
        parameters: the names of its parameters, in order.
        text: the expression over them.
        source: where the rule comes from, such as “BS 8666:2020, table 5”.
    """

    name: str
    parameters: tuple[str, ...]
    text: str
    source: str


def primitives() -> tuple[NamedFormula, ...]:
    """The functions that are always there, with how many values each takes."""
    names = {1: ("value",), 2: ("value", "step")}
    return tuple(
        NamedFormula(name, names.get(_ARGUMENTS.get(name, 0), ("value", "…")), "", words)
        for name, (words, *_) in _PRIMITIVES.items()
    )


class Formula:
    """One parsed and unit-checked formula.

    Args:
        text: the expression.
        scope: the dimension of every name it may use.
        named: named formulas it may call.
        where: what it is the formula of, for sentences (“output concrete”).
        system: the one in whose base units its values come.

    Raises:
        BadFormula: it can't be read, uses an unknown name, or breaks the rules of units.
    """

    def __init__(
        self,
        text: str,
        scope: Mapping[str, UnitsContainer],
        named: Mapping[str, NamedFormula] | None = None,
        *,
        where: str,
        system: System = METRIC,
    ) -> None:
        self.text, self.where, self._constants = text, where, _constants(system)
        self._tree = _Inliner(named or {}, where).visit(parse(text, where))
        self.size = _size(self._tree)
        self.names = names_in(self._tree)
        for name in sorted(self.names - set(scope) - set(CONSTANTS)):
            raise self._bad(
                f"uses “{name}”, which is not one of its values", f"Values here: {', '.join(sorted(scope))}."
            )
        self.dimension = self._dimension(self._tree, scope)
        self._plain = frozenset(name for name in self.names if scope.get(name) == NUMBER)
        self._run = _compiled(self._tree, self._constants)

    @property
    def is_product(self) -> bool:
        """Whether it only multiplies names, as dimension paper squares a line."""
        allowed = (ast.Name, ast.Mult, ast.Load, ast.BinOp)
        return all(isinstance(node, allowed) for node in ast.walk(self._tree))

    def value(self, values: Values) -> Any:
        """The result in base units for values in base units (SI, unless another system was named): numbers,
        or arrays of one length computed in bulk."""
        with np.errstate(all="ignore"):
            return self._run(values)

    def expect(self, wanted: UnitsContainer, symbol: str) -> Formula:
        """This formula, if its result has the wanted dimension.

        Raises:
            BadFormula: it has another one; both are named.
        """
        if self.dimension is not None and self.dimension != wanted:
            raise self._bad(
                f"gives {kind_of(self.dimension)}, but its unit is {symbol or 'a number'}: {kind_of(wanted)}"
            )
        return self

    def arithmetic(self, values: Values, labels: Mapping[str, str]) -> tuple[str, str]:
        """The expression in trade notation: in names, and with the values put in (one line, not arrays)."""

        def name_of(name: str) -> str:
            return labels[name] if name in labels else _SIGN_OF.get(name, name)

        def value_of(name: str) -> str:
            if name not in values:
                return name_of(name)
            number = float(values[name])
            return shown(number, least=0 if name in self._plain and number == int(number) else 2)

        known = {**self._constants, **values}
        return _notation(self._tree, name_of, known)[0], _notation(self._tree, value_of, known)[0]

    def in_spreadsheet(self, cells: Mapping[str, str]) -> str:
        """The same formula for a spreadsheet, without the leading equals sign.

        Args:
            cells: the cell reference of each name.
        """
        return _in_cells(self._tree, {**_written_constants(self._constants), **cells})

    def _bad(self, what: str, remedy: str = "") -> BadFormula:
        return BadFormula(
            f"The formula of {self.where}, “{self.text}”, {what}.", field=self.where, remedy=remedy
        )

    def _dimension(self, node: ast.AST, scope: Mapping[str, UnitsContainer]) -> Dimension:
        of = self._dimension
        match node:
            case ast.Constant(value=value):
                return None if value == 0 else NUMBER
            case ast.Name(id=name):
                return scope[name] if name in scope else CONSTANTS[name]
            case ast.UnaryOp(op=ast.Not(), operand=operand):
                of(operand, scope)
                return NUMBER
            case ast.UnaryOp(operand=operand):
                return of(operand, scope)
            case ast.BinOp(left=left, op=ast.Pow(), right=right):
                base, power = of(left, scope) or NUMBER, _constant(right)
                if power is None:
                    raise self._bad("raises to a power that is not a plain number")
                return UnitsContainer(base**power)
            case ast.BinOp(left=left, op=ast.Mult() | ast.Div() as op, right=right):
                one, two = of(left, scope) or NUMBER, of(right, scope) or NUMBER
                return UnitsContainer(one * two if isinstance(op, ast.Mult) else one / two)
            case ast.BinOp(left=left, op=op, right=right):
                verb = "adds" if isinstance(op, ast.Add) else "subtracts"
                return self._alike([of(left, scope), of(right, scope)], verb)
            case ast.Compare(left=left, comparators=[right]):
                self._alike([of(left, scope), of(right, scope)], "compares")
                return NUMBER
            case ast.BoolOp(values=sides):
                for side in sides:
                    of(side, scope)
                return NUMBER
            case ast.IfExp(test=test, body=body, orelse=orelse):
                of(test, scope)
                return self._alike([of(body, scope), of(orelse, scope)], "chooses between")
            case ast.Call(func=ast.Name(id=name), args=args):
                return self._call_dimension(name, [of(arg, scope) for arg in args])
        raise self._bad("holds something a formula can't")  # unreachable after parse()

    def _call_dimension(self, name: str, given: list[Dimension]) -> Dimension:
        if len(given) != _ARGUMENTS.get(name, len(given)) or not given:
            raise self._bad(
                f"gives {name} {len(given)} values; it takes {_ARGUMENTS.get(name, 'at least 1')}"
            )
        if name in ("ceil", "floor") and given[0] not in (None, NUMBER):
            raise self._bad(
                f"rounds {kind_of(given[0])} to whole units",
                "Use up_to_step(value, step), such as up_to_step(cut, 25*mm).",
            )
        if name in _ANGLES:
            if given[0] not in (None, NUMBER):
                raise self._bad(
                    f"takes the {name} of {kind_of(given[0])}", "An angle is a plain number, such as 30*deg."
                )
            return NUMBER
        if name == "sqrt":
            return UnitsContainer((given[0] or NUMBER) ** 0.5)
        return self._alike(given, "compares")

    def _alike(self, sides: list[Dimension], verb: str) -> Dimension:
        kinds = [side for side in sides if side is not None]
        for other in kinds[1:]:
            if other != kinds[0]:
                raise self._bad(
                    f"{verb} {kind_of(kinds[0])} and {kind_of(other)}", "Bring both to the same unit first."
                )
        return kinds[0] if kinds else None


def in_signs(text: str) -> str:
    """A formula with the signs people write put as it is read: ``3 × b²`` is 3 * b**2, ``5%`` is (5/100)."""
    for written, read in _WRITTEN:
        text = text.replace(written, read)
    return _SHARE.sub(r"(\1/100)", text)


def parse(text: str, where: str) -> ast.expr:
    """The tree of a formula, if every part of it is on the white list.

    Raises:
        BadFormula: it can't be read or holds something a formula can't.
    """

    def bad(what: str) -> BadFormula:
        return BadFormula(f"The formula of {where}, “{text[:80]}”, {what}.", field=where)

    if len(text) > _LONGEST:
        raise bad(f"is longer than {_LONGEST} characters")
    text = in_signs(text)
    try:
        tree = ast.parse(text.strip(), mode="eval").body
    except (SyntaxError, ValueError, MemoryError, RecursionError) as error:
        at = getattr(error, "offset", None)
        raise bad(f"can't be read{f' at character {at}' if at else ''}") from None
    _check_nodes(tree, text.strip(), bad, 0)
    if _size(tree) > MOST_NODES:
        raise bad("is too long")
    return tree


def _size(tree: ast.AST) -> int:
    return sum(1 for _ in ast.walk(tree))


def _depth(tree: ast.AST) -> int:
    """How deep a tree is, counted without going down into it."""
    layer, depth = [tree], 0
    while layer:
        layer, depth = [child for node in layer for child in ast.iter_child_nodes(node)], depth + 1
    return depth


def names_in(tree: ast.AST) -> frozenset[str]:
    """The names a tree uses as values."""
    called = {id(node.func) for node in ast.walk(tree) if isinstance(node, ast.Call)}
    return frozenset(
        node.id for node in ast.walk(tree) if isinstance(node, ast.Name) and id(node) not in called
    )


def in_order(wanted: Mapping[str, Iterable[str]], where: str) -> list[str]:
    """Names ordered so that each comes after those it uses.

    Args:
        wanted: for each name, the names it uses; names outside the mapping are given.
        where: what kind of thing they are, for the sentence.

    Raises:
        BadFormula: some use each other in a loop; the path is named.
    """
    done: dict[str, None] = {}
    for first in wanted:
        path: dict[str, Iterator[str]] = {}
        name: str | None = first
        while name is not None:
            if name in path:
                names = list(path)
                loop = " → ".join([*names[names.index(name) :], name])
                raise BadFormula(
                    f"{where} use each other in a loop: {loop if len(loop) < 400 else loop[:400] + '…'}.",
                    field=name,
                    remedy="Break the loop at one of them.",
                )
            if name not in done and name in wanted:
                path[name] = iter(sorted(wanted[name]))
            name = None
            while path and name is None:
                last = next(reversed(path))
                name = next(path[last], None)
                if name is None:
                    del path[last]
                    done[last] = None
    return list(done)


def refuse_deeper(wanted: Mapping[str, Iterable[str]], where: str, most: int) -> None:
    """Refuse names that use each other in chains longer than can be followed.

    Raises:
        BadFormula: a chain is longer than ``most``, or a loop.
    """
    depth: dict[str, int] = {}
    for name in in_order(wanted, where):
        depth[name] = 1 + max((depth.get(used, 0) for used in wanted[name]), default=0)
        if depth[name] > most:
            raise BadFormula(
                f"{where} use each other in a chain of more than {most}.", field=name,
                remedy="Let some of them draw on the first ones directly.",
            )  # fmt: skip


def _check_nodes(node: ast.AST, text: str, bad: Callable[[str], BadFormula], depth: int) -> None:
    if depth > _DEEPEST:
        raise bad("is nested too deep")
    children: list[ast.AST]
    match node:
        case ast.Constant(value=bool()):
            raise bad("holds True or False; compare two values instead")
        case ast.Constant(value=int() | float() as number) if abs(number) < 1e12:
            children = []
        case ast.Name():
            children = []
        case ast.BinOp(left=left, op=op, right=right) if type(op) in _BINARY:
            children = [left, right]
        case ast.UnaryOp(op=ast.USub() | ast.Not(), operand=operand):
            children = [operand]
        case ast.Compare(left=left, ops=[op], comparators=[right]) if type(op) in _COMPARE:
            children = [left, right]
        case ast.BoolOp(values=values):
            children = list(values)
        case ast.IfExp(test=test, body=body, orelse=orelse):
            children = [test, body, orelse]
        case ast.Call(func=ast.Name(), args=args, keywords=[]):
            children = list(args)
        case _:
            written = ast.get_source_segment(text, node) or type(node).__name__
            raise bad(f"holds “{written[:40]}”, which a formula can't")
    for child in children:
        _check_nodes(child, text, bad, depth + 1)


def _constant(node: ast.AST) -> float | None:
    match node:
        case ast.Constant(value=int() | float() as value) if abs(value) <= 6:
            return value
        case ast.UnaryOp(op=ast.USub(), operand=operand):
            inner = _constant(operand)
            return None if inner is None else -inner
    return None


class _Inliner(ast.NodeTransformer):
    """Writes calls of named formulas out in place, so that every pass sees plain arithmetic; how large that
    becomes is known, and bounded, before it is written."""

    def __init__(self, named: Mapping[str, NamedFormula], where: str) -> None:
        self.named, self.where = named, where

    def visit_Call(self, node: ast.Call) -> ast.AST:
        name = node.func.id if isinstance(node.func, ast.Name) else ""
        arguments = [self.visit(arg) for arg in node.args]
        if name in _PRIMITIVES:
            return ast.Call(func=node.func, args=arguments, keywords=[])
        known = self.named.get(name)
        if known is None:
            offered = ", ".join(sorted([*_PRIMITIVES, *self.named]))
            raise BadFormula(
                f"The formula of {self.where} calls “{name}”, which is not a function here.",
                field=self.where,
                remedy=f"Functions: {offered}.",
            )
        if len(arguments) != len(known.parameters):
            raise BadFormula(
                f"The formula of {self.where} gives {name} {len(arguments)} values; it takes "
                f"{len(known.parameters)}: {', '.join(known.parameters)}.",
                field=self.where,
            )
        values = dict(zip(known.parameters, arguments, strict=True))
        body = self.visit(parse(known.text, name))
        sizes, depths = ({key: of(value) for key, value in values.items()} for of in (_size, _depth))
        used = [node.id for node in ast.walk(body) if isinstance(node, ast.Name) and node.id in values]
        if (
            _size(body) + sum(sizes[each] for each in used) > MOST_NODES
            or _depth(body) + max(depths.values(), default=0) > _DEEPEST_WRITTEN_OUT
        ):
            raise BadFormula(
                f"The formula of {self.where} is too long once the formulas it calls are written out.",
                field=self.where,
                remedy="Work parts of it out as derived values of their own.",
            )
        written: ast.AST = _Substitute(values).visit(body)
        return written


class _Substitute(ast.NodeTransformer):
    def __init__(self, values: Mapping[str, ast.AST]) -> None:
        self.values = values

    def visit_Name(self, node: ast.Name) -> ast.AST:
        # A copy for each place: a tree shared by two would be written into twice.
        return deepcopy(self.values[node.id]) if node.id in self.values else node


def _compiled(node: ast.AST, constants: Mapping[str, float]) -> Callable[[Values], Any]:
    """A closure that computes the tree on numbers or arrays."""

    def of(child: ast.AST) -> Callable[[Values], Any]:
        return _compiled(child, constants)

    match node:
        case ast.Constant(value=value):
            number = float(value)  # type: ignore[arg-type]
            return lambda values: number
        case ast.Name(id=name):
            if name in constants:
                fixed = constants[name]
                return lambda values: values.get(name, fixed)
            return lambda values: values[name]
        case ast.UnaryOp(op=ast.Not(), operand=operand):
            denied = of(operand)
            return lambda values: np.multiply(np.logical_not(denied(values)), 1.0)
        case ast.UnaryOp(operand=operand):
            inner = of(operand)
            return lambda values: -inner(values)
        case ast.BinOp(left=left, op=op, right=right):
            one, two, apply = of(left), of(right), _BINARY[type(op)][0]
            return lambda values: apply(one(values), two(values))
        case ast.Compare(left=left, ops=[sign], comparators=[right]):
            one, two, compare = of(left), of(right), _COMPARE[type(sign)][0]
            # A number, 1 or 0: two of them add up to 2.
            return lambda values: np.multiply(compare(one(values), two(values)), 1.0)
        case ast.BoolOp(op=both, values=sides):
            parts = [of(side) for side in sides]
            join = np.logical_and if isinstance(both, ast.And) else np.logical_or
            return lambda values: np.multiply(
                join.reduce(np.broadcast_arrays(*[part(values) for part in parts])), 1.0
            )
        case ast.IfExp(test=test, body=body, orelse=orelse):
            when, then, other = of(test), of(body), of(orelse)
            return lambda values: np.where(when(values), then(values), other(values))
        case ast.Call(func=ast.Name(id=name), args=args):
            inputs, function = [of(arg) for arg in args], _PRIMITIVES[name][1]
            return lambda values: function(*[given(values) for given in inputs])
    raise AssertionError(ast.dump(node))  # parse() lets nothing else through


@lru_cache(maxsize=4096)
def _choice_test(test: ast.expr) -> Callable[[Values], Any]:
    return _compiled(test, {})


def _notation(node: ast.AST, of: Callable[[str], str], values: Values) -> tuple[str, int]:
    """The tree in trade notation with its binding strength; a choice shows the branch taken."""

    def wrapped(child: ast.AST, least: int) -> str:
        text, strength = _notation(child, of, values)
        return text if strength >= least else f"({text})"

    match node:
        case ast.Constant(value=value):
            return shown(float(value), least=0), 9  # type: ignore[arg-type]
        case ast.Name(id=name):
            text = _SIGN_OF[name] if name in ("pi", "deg") else of(name)
            return text, 3 if text.startswith("−") else 9  # a value below zero binds as loosely as a sign
        case ast.UnaryOp(op=ast.Not(), operand=operand):
            return f"not {wrapped(operand, 1)}", 0
        case ast.UnaryOp(operand=operand):
            return f"−{wrapped(operand, 3)}", 3
        case ast.BinOp(left=ast.Constant(value=value), op=ast.Mult(), right=ast.Name(id=symbol)) if (
            symbol in CONSTANTS and symbol != "pi"
        ):
            number = shown(float(value), least=0)  # type: ignore[arg-type]
            # 25*mm reads “25 mm”, and 30*deg “30°”.
            return f"{number}{_SIGN_OF[symbol]}" if symbol == "deg" else f"{number} {_SIGN_OF[symbol]}", 9
        case ast.BinOp(left=left, op=ast.Pow(), right=right):
            superscript = {2.0: "²", 3.0: "³"}.get(float(_constant(right) or 0))
            return (
                f"{wrapped(left, 5)}{superscript}"
                if superscript
                else f"{wrapped(left, 5)}^{wrapped(right, 5)}"
            ), 4
        case ast.BinOp(left=left, op=op, right=right):
            _, sign, strength = _BINARY[type(op)]
            tighter = strength + 1 if isinstance(op, ast.Sub | ast.Div) else strength
            return f"{wrapped(left, strength)} {sign} {wrapped(right, tighter)}", strength
        case ast.Compare(left=left, ops=[op], comparators=[right]):
            return f"{wrapped(left, 1)} {_COMPARE[type(op)][1]} {wrapped(right, 1)}", 0
        case ast.BoolOp(op=op, values=sides):
            joined = (" and " if isinstance(op, ast.And) else " or ").join(wrapped(side, 1) for side in sides)
            return joined, 0
        case ast.IfExp(test=test, body=body, orelse=orelse):
            return _notation(body if bool(_choice_test(test)(values)) else orelse, of, values)
        case ast.Call(func=ast.Name(id=name), args=args):
            inside = "; ".join(_notation(arg, of, values)[0] for arg in args)
            return f"{_PRIMITIVES[name][0]} ({inside})", 9
    raise AssertionError(ast.dump(node))


def _written_constants(constants: Mapping[str, float]) -> Mapping[str, str]:
    return {name: "PI()" if name == "pi" else f"{size:.13g}" for name, size in constants.items()}


def _in_cells(node: ast.AST, cells: Mapping[str, str]) -> str:
    """The tree as a spreadsheet formula over cell references; every operation is bracketed."""

    def of(child: ast.AST) -> str:
        return _in_cells(child, cells)

    match node:
        case ast.Constant(value=value):
            return repr(value)
        case ast.Name(id=name):
            return cells[name]
        case ast.UnaryOp(op=ast.Not(), operand=operand):
            return f"NOT({of(operand)})"
        case ast.UnaryOp(operand=operand):
            return f"(-{of(operand)})"
        case ast.BinOp(left=left, op=op, right=right):
            return f"({of(left)}{_SHEET_SIGN[_BINARY[type(op)][1]]}{of(right)})"
        case ast.Compare(left=left, ops=[op], comparators=[right]):
            return f"({of(left)}{_COMPARE[type(op)][2]}{of(right)})"
        case ast.BoolOp(op=op, values=sides):
            return f"{'AND' if isinstance(op, ast.And) else 'OR'}({','.join(of(side) for side in sides)})"
        case ast.IfExp(test=test, body=body, orelse=orelse):
            return f"IF({of(test)},{of(body)},{of(orelse)})"
        case ast.Call(func=ast.Name(id=name), args=args):
            inner = [of(arg) for arg in args]
            return _PRIMITIVES[name][2].format(*inner, all=",".join(inner))
    raise AssertionError(ast.dump(node))
