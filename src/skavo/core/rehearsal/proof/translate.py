"""Typed trees as expressions of the solver. What it cannot follow exactly is left open and noted as a doubt."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, time, timedelta
from decimal import Decimal
from typing import TYPE_CHECKING, Any

import z3

from skavo.core.interview.release import PartSpec
from skavo.core.rehearsal.proof import calls
from skavo.core.rehearsal.proof.rows import aggregate
from skavo.core.rehearsal.proof.symbols import (
    BEYOND,
    FALSE,
    NOTHING,
    TRUE,
    Chosen,
    Expr,
    Truth,
    Value,
    both,
    choose,
    definite,
    either,
    opposite,
    truth_and,
    truth_not,
    truth_or,
)
from skavo.core.rehearsal.proof.texts import Texts
from skavo.core.rules.state import Row, read_literal
from skavo.core.rules.values import Duration

if TYPE_CHECKING:
    from skavo.core.rehearsal.proof.world import World

_ORDER: dict[str, Callable[[Expr, Expr], Expr]] = {
    "is": lambda a, b: a == b,
    "is_not": lambda a, b: a != b,
    "lt": lambda a, b: a < b,
    "le": lambda a, b: a <= b,
    "gt": lambda a, b: a > b,
    "ge": lambda a, b: a >= b,
}


class Translator:
    """`facts` are what has to hold of everything left open: that equal texts match alike, that lengths are not below 0.

    `is_bounded` says that some values are known between bounds only (World.clear).
    """

    def __init__(self, world: World) -> None:
        self.world = world
        self.facts: list[Expr] = []
        self.is_bounded = False
        self.texts = Texts(self.facts)
        # What the earlier round may have held, by part.
        self.earlier: dict[int, Any] = {}
        self._fresh = 0
        self._shared: dict[tuple[Any, ...], tuple[Expr, tuple[Expr, ...]]] = {}
        self._part: PartSpec | None = None
        self._row: Row = ()
        self._code: dict[str, str] = {}

    # from outside

    def truth(self, tree: Any, part: PartSpec, row: Row, code: dict[str, str] | None = None) -> Truth:
        """A rule as definitely yes and definitely no, standing at `part` in `row`."""
        found = self.value(tree, part, row, code)
        return found if isinstance(found, Truth) else Truth(FALSE, FALSE)

    def value(self, tree: Any, part: PartSpec, row: Row, code: dict[str, str] | None = None) -> Any:
        before = self._part, self._row, self._code
        self._part, self._row, self._code = part, row, code or {}
        try:
            return self.of(tree)
        finally:
            self._part, self._row, self._code = before

    def truth_at(self, tree: Any, index: int, row: Row) -> Truth:
        """A rule that stands inside the rows of the part at `index`."""
        return self.truth(tree, self.world.release.parts[index], row)

    def in_row(self, tree: Any, row: Row) -> Any:
        """A tree of the present rule, in another row."""
        before, self._row = self._row, row
        try:
            return self.of(tree)
        finally:
            self._row = before

    @property
    def row(self) -> Row:
        return self._row

    def doubt(self, reason: str) -> None:
        """What is said of the present part may not be exact."""
        if self._part is not None:
            self.world.doubts[self._part.index].add(reason)

    def fresh(self, sort: Any = None) -> Expr:
        """An unknown that nothing is said about."""
        self._fresh += 1
        return z3.Const(f"open {self._fresh}", sort if sort is not None else z3.RealSort())

    def fresh_for(self, words: str, *values: Expr) -> Expr:
        """An unknown whole number that is the same wherever it is asked for with the same values."""
        key = (words, *(value.get_id() for value in values))
        if key not in self._shared:
            # The values are kept, since the solver gives the numbers of those it has forgotten to others.
            self._shared[key] = self.fresh(z3.IntSort()), values
        return self._shared[key][0]

    # one method for each op

    def of(self, tree: Any) -> Any:
        op, *args = tree
        if op in _ORDER:
            return self._compare(op, *args)
        method: Callable[..., Any] = getattr(self, f"_op_{op}")
        return method(*args)

    def number(self, tree: Any) -> Value:
        found = self.of(tree)
        return found if isinstance(found, Value) else NOTHING

    def _op_literal(self, kind: str, raw: Any) -> Any:
        value = read_literal(kind, raw)
        if isinstance(value, bool):
            return definite(z3.BoolVal(value))
        if isinstance(value, int | Decimal):
            return Value(TRUE, z3.IntVal(value) if isinstance(value, int) else z3.RealVal(str(value)))
        if isinstance(value, date):
            return Value(TRUE, z3.IntVal(value.toordinal()))
        if isinstance(value, time):
            return Value(TRUE, z3.IntVal(value.hour * 60 + value.minute))
        if isinstance(value, Duration):
            return Value(TRUE, z3.IntVal(value.seconds))
        if isinstance(value, list):
            return Chosen(TRUE, dict.fromkeys(value, TRUE))
        return Value(TRUE, self.texts.value(value)) if value is not None else NOTHING

    def _op_variable(self, index: int, depth: int) -> Any:
        return self.world.values.get((index, self._row[:depth]), NOTHING)

    def _op_size(self, tree: Any) -> Any:
        found = self.of(tree)
        if tree[0] == "earlier":
            sized = z3.Bool(f"earlier {tree[1]} {self._row[: tree[2]]} sized")
            sized = sized if self.world.release.parts[tree[1]].has_local_units else TRUE
        else:
            sized = self.world.sized.get((tree[1], self._row[: tree[2]]), TRUE)
        return Value(both(found.there, sized), found.value)

    def _op_row(self, depth: int, roster: int) -> Value:
        names = [name for name, _ in self.world.rows.get((roster, self._row[: depth - 1]), ())]
        name = self._row[depth - 1] if len(self._row) >= depth else None
        if name == BEYOND and (roster, self._row[: depth - 1]) in self.world.beyond:
            return Value(TRUE, self.world.beyond[roster, self._row[: depth - 1]][1])
        return Value(TRUE, z3.IntVal(names.index(name) + 1)) if name in names else NOTHING

    def _op_row_name(self, depth: int) -> Value:
        return Value(TRUE, self.texts.value(str(self._row[depth - 1])))

    def _op_outside(self, name: str) -> Any:
        if name == "today":
            return Value(TRUE, self.world.today)
        if name in ("now", "interview.started"):
            return Value(TRUE, self.world.moment if name == "now" else self.world.started)
        if name == "interview.language":
            language = z3.Int("interview.language")
            known = [language == self.texts.number(lang) for lang in self.world.release.languages]
            self.facts.append(z3.Or(*known))
            return Value(TRUE, language)
        self.doubt(f"{name} is known only in the field")
        return Value(z3.Bool(f"{name} known"), z3.Int(name))

    def _op_unit(self, unit: Any, attribute: str, kind: str) -> Any:
        self.doubt("it comes from a register")
        return self._from_outside(f"unit.{attribute}", kind)

    def _op_earlier(self, index: int, depth: int) -> Any:
        part = self.world.release.parts[index]
        name = f"earlier.{part.variable}"
        if depth:
            self.doubt("it comes from the earlier round")
            return self._from_outside(f"{name}{self._row[:depth]}", part.raw["type"])
        if index not in self.earlier:
            self.earlier[index] = self.world.unknown(part, name, z3.Bool(f"{name} known"))
        return self.earlier[index]

    def _from_outside(self, name: str, kind: str) -> Any:
        there = z3.Bool(f"{name} known")
        if kind == "yes/no":
            return Truth(both(there, z3.Bool(name)), both(there, z3.Not(z3.Bool(name))))
        if kind == "codes":
            return Chosen(FALSE, {})
        sort = z3.RealSort() if kind in ("number", "quantity") else z3.IntSort()
        return Value(there, z3.Const(name, sort))

    def _op_attribute(self, name: str) -> Value:
        found = self._code.get(name)
        return Value(TRUE, self.texts.value(found)) if found is not None else NOTHING

    def _op_known(self, tree: Any, wanted: bool) -> Truth:
        found = self.of(tree)
        there = either(found.yes, found.no) if isinstance(found, Truth) else found.there
        return definite(there if wanted else opposite(there))

    # logic

    def _truths(self, trees: Any) -> list[Truth]:
        found = [self.of(t) for t in trees]
        return [f if isinstance(f, Truth) else Truth(FALSE, FALSE) for f in found]

    def _op_and(self, *trees: Any) -> Truth:
        return truth_and(self._truths(trees))

    def _op_or(self, *trees: Any) -> Truth:
        return truth_or(self._truths(trees))

    def _op_not(self, tree: Any) -> Truth:
        return truth_not(self._truths([tree])[0])

    def _op_if(self, condition: Any, yes: Any, no: Any) -> Any:
        first, second = self.of(yes), self.of(no)
        if isinstance(first, Truth) != isinstance(second, Truth) or isinstance(first, Chosen):
            self.doubt("branches of different kinds")
            return NOTHING
        return choose(self._truths([condition])[0], first, second)

    # comparing

    def _compare(self, op: str, left: Any, right: Any) -> Truth:
        a, b = self.of(left), self.of(right)
        if isinstance(a, Truth) and isinstance(b, Truth):
            alike = Truth(either(both(a.yes, b.yes), both(a.no, b.no)), either(both(a.yes, b.no), both(a.no, b.yes)))
            return alike if op == "is" else truth_not(alike)
        if not (isinstance(a, Value) and isinstance(b, Value)):
            return Truth(FALSE, FALSE)
        return definite(_ORDER[op](a.value, b.value), both(a.there, b.there))

    def _op_between(self, value: Any, low: Any, high: Any) -> Truth:
        return truth_and([self._compare("ge", value, low), self._compare("le", value, high)])

    def _op_one_of(self, value: Any, items: list[Any]) -> Truth:
        return truth_or([self._compare("is", value, item) for item in items])

    def _op_none_of(self, value: Any, items: list[Any]) -> Truth:
        return truth_not(self._op_one_of(value, items))

    def _op_includes(self, value: Any, mode: str, codes: list[Any]) -> Truth:
        chosen = self.of(value)
        if not isinstance(chosen, Chosen):
            return Truth(FALSE, FALSE)
        if mode == "only":
            return self._only(chosen, codes)
        wanted = [self._included(chosen, code) for code in codes]
        held = truth_or(wanted) if mode == "any" else truth_and(wanted)
        return Truth(both(chosen.there, held.yes), both(chosen.there, held.no))

    def _only(self, chosen: Chosen, codes: list[Any]) -> Truth:
        plain = {code[2] for code in codes if code[0] == "literal"}
        held = [self.number(code) for code in codes if code[0] != "literal"]
        others = [
            both(on, *[opposite(both(h.there, h.value == self.texts.number(code))) for h in held])
            for code, on in chosen.codes.items()
            if code not in plain
        ]
        # A code that is missing could still be the one that is not allowed for.
        is_sure = both(chosen.there, *[h.there for h in held])
        return Truth(both(chosen.there, opposite(either(*others))), both(is_sure, either(*others)))

    def _included(self, chosen: Chosen, code: Any) -> Truth:
        if code[0] == "literal":
            return definite(chosen.codes.get(code[2], FALSE))
        wanted = self.number(code)
        hits = [both(on, wanted.value == self.texts.number(name)) for name, on in chosen.codes.items()]
        return definite(either(*hits), wanted.there)

    def _op_count_codes(self, value: Any) -> Value:
        chosen = self.of(value)
        if not isinstance(chosen, Chosen):
            return NOTHING
        return Value(chosen.there, z3.Sum([z3.If(on, 1, 0) for on in chosen.codes.values()]))

    def _op_status(self, test: str, index: int, depth: int) -> Truth:
        place = (index, self._row[:depth])
        if place not in self.world.asked:
            return definite(FALSE if test != "missing" else TRUE)
        if test == "asked":
            return definite(self.world.asked[place])
        answer = self.world.answers.get(place)
        if test in ("not_known", "refused"):
            on = FALSE if answer is None else answer.dont_know if test == "not_known" else answer.refused
            return definite(on)
        there = self.world.there(place) if place in self.world.values else FALSE
        return definite(there if test == "answered" else opposite(there))

    def _op_matches(self, value: Any, form: str, pattern: str) -> Truth:
        text = self.number(value)
        self.doubt(f"whether a text fits the {form} “{pattern}”")
        return definite(self.texts.matching(form, pattern, text.value), text.there)

    # numbers and dates

    def _op_add(self, left: Any, right: Any) -> Any:
        return self._sum(left, right, 1)

    def _op_subtract(self, left: Any, right: Any) -> Any:
        return self._sum(left, right, -1)

    def _sum(self, left: Any, right: Any, sign: int) -> Value:
        a = self.number(left)
        if right[0] == "literal" and right[1] == "duration":
            months, seconds = right[2]
            return calls.shifted(self, a, sign * months, sign * seconds, self._is_moment(left))
        b = self.number(right)
        if _is_duration(right):
            self.doubt("a span of time that is not written out")
            return Value(both(a.there, b.there), self.fresh(z3.IntSort()))
        return Value(both(a.there, b.there), a.value + b.value if sign > 0 else a.value - b.value)

    def _is_moment(self, tree: Any) -> bool:
        """Whether a tree gives a date with its time, which is counted in seconds."""
        op = tree[0]
        if op in ("variable", "earlier"):
            return bool(self.world.release.parts[tree[1]].raw["type"] == "date-time")
        if op == "outside":
            return tree[1] in ("now", "interview.started")
        if op == "unit":
            return bool(tree[3] == "date-time")
        inner = {"add": 1, "subtract": 1, "if": 2, "aggregate": 4}.get(op)
        return inner is not None and self._is_moment(tree[inner])

    def _op_negative(self, tree: Any) -> Value:
        a = self.number(tree)
        return Value(a.there, -a.value)

    def _op_multiply(self, left: Any, right: Any) -> Value:
        a, b = self.number(left), self.number(right)
        if not (is_constant(a.value) or is_constant(b.value)):
            self.doubt("two unknown numbers are multiplied")
        return Value(both(a.there, b.there), a.value * b.value)

    def _op_divide(self, left: Any, right: Any) -> Value:
        a, b = self.number(left), self.number(right)
        if not is_constant(b.value):
            self.doubt("a number is divided by an unknown one")
        there = both(a.there, b.there, b.value != 0)
        return Value(there, as_real(a.value) / as_real(b.value))

    def _op_date_of(self, tree: Any) -> Value:
        a = self.number(tree)
        return Value(a.there, a.value / calls.DAY)

    def _op_elapsed(self, start: Any, end: Any) -> Value:
        a, b = self.number(start), self.number(end)
        return Value(both(a.there, b.there), b.value - a.value)

    def _op_call(self, name: str, *trees: Any) -> Any:
        return calls.call(self, name, [self.of(t) for t in trees])

    def _op_aggregate(self, name: str, rosters: list[int], depth: int, value: Any, where: Any) -> Any:
        return aggregate(self, name, rosters, self._row[:depth], value, where)

    def _op_label(self, code_list: str, value: Any) -> Value:
        a = self.number(value)
        self.doubt("a label is compared")
        return Value(a.there, self.fresh(z3.IntSort()))


def _is_duration(tree: Any) -> bool:
    return bool(
        tree[:2] == ["literal", "duration"] or tree[0] == "elapsed" or (tree[0] == "if" and _is_duration(tree[2]))
    )


def is_constant(value: Expr) -> bool:
    return bool(z3.is_int_value(value) or z3.is_rational_value(value))


def as_real(value: Expr) -> Expr:
    return z3.ToReal(value) if z3.is_int(value) else value


def as_date(ordinal: int) -> date:
    return date.min + timedelta(days=ordinal - 1)
