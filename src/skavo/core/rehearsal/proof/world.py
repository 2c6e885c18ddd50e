"""A release unrolled for the solver: every place of an interview with its unknowns, rosters up to a few rows.

It is a world of one moment, at which interviews are made, or of any one in some days from then on.

A roster may have more rows than are unrolled. What goes over such rows is then left open (`extra`), and where rules
tell rows apart by their number, one row more stands for any of them; so whatever cannot be reached here cannot be
reached at all. What can be reached is tried in the engine before anybody is told.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

import z3

from skavo.core.interview.release import PartSpec, Release
from skavo.core.rehearsal.proof.calls import DAY, LAST_DAY
from skavo.core.rehearsal.proof.symbols import BEYOND, FALSE, TRUE, Chosen, Expr, Truth, Value, both, either, opposite
from skavo.core.rehearsal.proof.translate import Translator
from skavo.core.rehearsal.reading import ReleaseReading
from skavo.core.rules.state import Row, variables_in

Place = tuple[int, Row]


@dataclass
class Answer:
    """The unknowns of one place that takes an answer: given, don't know, refused, and the value."""

    given: Expr
    dont_know: Expr
    refused: Expr
    value: Any


@dataclass
class World:
    """`base` holds what is so in any interview; `hard` a condition for each hard check, by (part, check), row by row."""

    release: Release
    now: datetime
    most_rows: int
    days_ahead: int = 0
    base: list[Expr] = field(default_factory=list)
    asked: dict[Place, Expr] = field(default_factory=dict)
    answers: dict[Place, Answer] = field(default_factory=dict)
    values: dict[Place, Any] = field(default_factory=dict)
    # whether the unit of a quantity has a factor that is known; where it always has, the place is left out
    sized: dict[Place, Expr] = field(default_factory=dict)
    # roster place -> the names of its unrolled rows with whether each exists
    rows: dict[Place, list[tuple[Any, Expr]]] = field(default_factory=dict)
    more_rows: dict[Place, Expr] = field(default_factory=dict)
    # roster place -> whether the row beyond exists, and its number
    beyond: dict[Place, tuple[Expr, Expr]] = field(default_factory=dict)
    # how many rows a counted roster has, where that is known
    counts: dict[Place, Expr] = field(default_factory=dict)
    checks: dict[tuple[int, int], list[tuple[Row, Expr, Truth]]] = field(default_factory=lambda: defaultdict(list))
    # by part, row by row: whether an answer is needed, and whether there is one
    needed: dict[int, list[tuple[Expr, Expr]]] = field(default_factory=lambda: defaultdict(list))
    asked_when: dict[Place, tuple[Expr, Truth]] = field(default_factory=dict)
    # why what is said of a part may not be exact
    doubts: dict[int, set[str]] = field(default_factory=lambda: defaultdict(set))
    # Where the solver knows a value only between bounds: well inside them, so that the engine finds the same value.
    clear: Expr = field(default_factory=lambda: z3.Bool("clear"))

    def __post_init__(self) -> None:
        reading = ReleaseReading(self.release)
        self._set_clock()
        self.limits, self.numbered = reading.limits, reading.numbered
        self.translator = Translator(self)
        for part in self.release.parts:
            for row in self.instances(part.rosters):
                self._add(part, row)
        for part in self.release.parts:
            for row in self.instances(part.rosters):
                self._add_rules(part, row)
        self.base += self.translator.facts
        self.no_more_rows = opposite(either(*self.more_rows.values()))

    def _set_clock(self) -> None:
        """`today`, and in seconds the moment at hand and the one at which the interview was started."""
        seconds = self.now.hour * 3600 + self.now.minute * 60 + self.now.second
        present = self.now.toordinal() * DAY + seconds
        self.today, self.moment, self.started = (z3.IntVal(n) for n in (self.now.toordinal(), present, present))
        if self.days_ahead:
            self.today, self.moment, self.started = (z3.Int(f"clock {name}") for name in ("day", "now", "started"))
            first = self.now.toordinal()
            self.base += [
                z3.And(self.today >= first, self.today <= first + self.days_ahead),
                z3.And(self.moment >= self.today * DAY, self.moment < (self.today + 1) * DAY),
                z3.And(self.started <= self.moment, self.started >= self.moment - self.days_ahead * DAY),
            ]

    def instances(self, rosters: tuple[int, ...], row: Row = ()) -> Iterator[Row]:
        """Every unrolled row inside `rosters`, below `row`."""
        if len(row) == len(rosters):
            yield row
            return
        place = (rosters[len(row)], row)
        names = [name for name, _ in self.rows.get(place, ())]
        for name in [*names, BEYOND] if place in self.beyond else names:
            yield from self.instances(rosters, (*row, name))

    def exists(self, rosters: tuple[int, ...], row: Row) -> Expr:
        """Whether the rows that lead to a place exist."""
        found = []
        for depth, roster in enumerate(rosters):
            place = (roster, row[:depth])
            there = [*self.rows[place], (BEYOND, self.beyond[place][0])] if place in self.beyond else self.rows[place]
            found += [e for name, e in there if name == row[depth]]
        return both(*found)

    def _add(self, part: PartSpec, row: Row) -> None:
        place = (part.index, row)
        parent = TRUE
        if part.parent is not None:
            above = self.release.parts[part.parent]
            parent = self.asked[above.index, row[: above.depth]]
            if part.in_roster:
                parent = both(parent, self.exists(part.rosters, row))
        asked = parent
        if part.asked_when is not None:
            rule = self.translator.truth(part.raw["asked_when"], part, row)
            self.asked_when[place] = (parent, rule)
            asked = z3.Bool(f"asked {part.index} {row}")
            self.base.append(asked == both(parent, rule.yes))
        self.asked[place] = asked
        if part.repeat is not None:
            self._add_rows(part, row)
        elif part.derived is not None:
            self._add_derived(part, row)
        elif part.kind.read is not None:
            self._add_answer(part, row)

    # rows

    def _add_rows(self, part: PartSpec, row: Row) -> None:
        form, tree = part.raw["repeat"][:2]
        place, asked = (part.index, row), self.asked[part.index, row]
        if form == "codes":
            chosen, alone = self.translator.value(tree, part, row), self.release.exclusive[part.raw["repeat"][2]]
            self.rows[place] = [
                (code, both(asked, chosen.there, on)) for code, on in chosen.codes.items() if code not in alone
            ]
            return
        if form == "units":
            self.rows[place] = []
            self.more_rows[place] = z3.Bool(f"units {part.index} {row}")
            self.doubts[part.index].add("its rows come from a register")
            return
        if form == "times":
            count = self.translator.value(tree, part, row)
            self.rows[place] = [(n, both(asked, count.there, count.value >= n)) for n in range(1, self.most_rows + 1)]
            self.more_rows[place] = both(asked, count.there, count.value >= self.most_rows + 1)
            self.counts[place] = count.value
            self._add_beyond(place, count.value)
            return
        exists = [asked, *[z3.Bool(f"row {part.index} {row} {n}") for n in range(2, self.most_rows + 1)]]
        self.rows[place] = list(enumerate(exists, start=1))
        self.more_rows[place] = z3.Bool(f"more {part.index} {row}")
        self._add_beyond(place)

    def _add_beyond(self, place: Place, count: Expr | None = None) -> None:
        if place[0] not in self.numbered:
            return
        number = z3.Int(f"row number {place}")
        within = number <= count if count is not None else TRUE
        self.beyond[place] = both(self.more_rows[place], number > self.most_rows, within), number

    def _close_while(self, part: PartSpec, row: Row) -> None:
        """A row of `while` exists when the row before it says so; its questions are known only now."""
        place, tree = (part.index, row), part.raw["repeat"][1]
        following = [*[e for _, e in self.rows[place][1:]], self.more_rows[place]]
        for (name, exists), after in zip(self.rows[place], following, strict=True):
            again = self.translator.truth_at(tree, part.index, (*row, name))
            self.base.append(after == both(exists, again.yes))

    # values

    def _add_derived(self, part: PartSpec, row: Row) -> None:
        value = self.translator.value(part.raw["derived"], part, row)
        asked = self.asked[part.index, row]
        for index in variables_in(part.raw["derived"]):
            self.doubts[part.index] |= self.doubts[index]
        if isinstance(value, Truth):
            self.values[part.index, row] = Truth(both(asked, value.yes), both(asked, value.no))
        elif isinstance(value, Chosen):
            self.values[part.index, row] = Chosen(both(asked, value.there), value.codes)
        else:
            self.values[part.index, row] = Value(both(asked, value.there), value.value)

    def _add_answer(self, part: PartSpec, row: Row) -> None:
        place, asked = (part.index, row), self.asked[part.index, row]
        name = f"{part.variable}{list(row) if row else ''}"
        given = z3.Bool(f"{name} given")
        special = part.raw["special"]
        dont_know = z3.Bool(f"{name} don't know") if "dont_know" in special else FALSE
        refused = z3.Bool(f"{name} refused") if "refused" in special else FALSE
        self.base.append(z3.Implies(either(given, dont_know, refused), asked))
        self.base += [z3.AtMost(given, dont_know, refused, 1)] if special else []
        value = self.unknown(part, name, given)
        self.answers[place] = Answer(given, dont_know, refused, value)
        self.values[place] = value
        if part.has_local_units:
            self._add_unit(part, row, name)
        if part.default is not None:
            self.values[place] = self._with_default(part, row, value, either(dont_know, refused))

    def _add_unit(self, part: PartSpec, row: Row, name: str) -> None:
        chosen = [z3.Bool(f"{name} in {unit['unit']}") for unit in part.raw["units"]]
        self.base += [z3.Or(*chosen), z3.AtMost(*chosen, 1)]
        known = [self.translator.value(unit["factor"], part, row).there for unit in part.raw["units"]]
        self.sized[part.index, row] = either(*[both(on, there) for on, there in zip(chosen, known, strict=True)])

    def _with_default(self, part: PartSpec, row: Row, value: Any, special: Expr) -> Any:
        default = self.translator.value(part.raw["default"], part, row)
        asked = self.asked[part.index, row]
        if isinstance(value, Truth):
            free = both(asked, opposite(value.yes), opposite(value.no), opposite(special))
            return Truth(either(value.yes, both(free, default.yes)), either(value.no, both(free, default.no)))
        if isinstance(value, Chosen) or not isinstance(default, Value):
            self.doubts[part.index].add("a default of several codes")
            return value
        usable = default.there
        if part.raw["units"]:
            factor = self.translator.value(part.raw["units"][0]["factor"], part, row)
            usable = both(usable, factor.there, factor.value != 0)
        there = either(value.there, both(asked, opposite(special), usable))
        return Value(there, z3.If(value.there, value.value, default.value))

    def unknown(self, part: PartSpec, name: str, given: Expr) -> Any:
        """The unknown value of an answer to `part`, there if `given`."""
        kind = part.raw["type"]
        if part.reads_back is not None:
            # Only a confirmation lets the interview go on.
            return Truth(given, FALSE)
        if kind == "yes/no":
            yes = z3.Bool(name)
            return Truth(both(given, yes), both(given, opposite(yes)))
        if kind == "codes":
            return self._unknown_codes(part, name, given)
        if kind in ("number", "quantity"):
            value = z3.Int(name) if part.kind.name == "whole number" else z3.Real(name)
            self._limit(part, given, value)
            return Value(given, value)
        value = z3.Int(name)
        if kind == "code":
            ids = [self.translator.texts.number(c["code"]) for c in self.release.lists[part.raw["code_list"]]]
            self.base.append(z3.Or(*[value == i for i in ids]))
        elif kind == "date":
            self.base.append(z3.And(value >= 1, value <= LAST_DAY))
        elif kind == "time":
            self.base.append(z3.And(value >= 0, value < 24 * 60))
        elif kind == "text" and part.raw["mask"]:
            self.base.append(z3.Implies(given, self.translator.texts.matching("mask", part.raw["mask"], value)))
        return Value(given, value)

    def _limit(self, part: PartSpec, given: Expr, value: Expr) -> None:
        if part.least is not None:
            self.base.append(z3.Implies(given, value >= z3.RealVal(str(part.least))))
        if part.most is not None:
            self.base.append(z3.Implies(given, value <= z3.RealVal(str(part.most))))

    def _unknown_codes(self, part: PartSpec, name: str, given: Expr) -> Chosen:
        codes = self.release.lists[part.raw["code_list"]]
        chosen = {c["code"]: z3.Bool(f"{name} {c['code']}") for c in codes}
        every = list(chosen.values())
        self.base += [z3.Implies(on, given) for on in every]
        self.base.append(z3.Implies(given, z3.Or(*every)))
        alone = [chosen[c["code"]] for c in codes if c["exclusive"]]
        for on in alone:
            self.base += [z3.Implies(on, z3.Not(other)) for other in every if other is not on]
        if part.least is not None and part.least > 1:
            enough = z3.AtLeast(*every, int(part.least))
            self.base.append(z3.Implies(given, either(enough, *alone)))
        if part.most is not None:
            self.base.append(z3.Implies(given, z3.AtMost(*every, int(part.most))))
        return Chosen(given, chosen)

    # rules that come after all places are known

    def _add_rules(self, part: PartSpec, row: Row) -> None:
        place, asked = (part.index, row), self.asked[part.index, row]
        if part.repeat is not None and part.repeat[0] == "while":
            self._close_while(part, row)
        if part.code_filter is not None and place in self.answers:
            self._add_filter(part, row)
        for check in part.checks:
            rule = self.translator.truth(part.raw["checks"][check.number]["rule"], part, row)
            self.checks[part.index, check.number].append((row, asked, rule))
        if place in self.answers and part.needed is not False:
            needed = TRUE if part.needed is True else self.translator.truth(part.raw["needed"], part, row).yes
            answer = self.answers[place]
            there = self.known(self.values[place])
            enough = either(answer.given, answer.dont_know, answer.refused, there)
            self.needed[part.index].append((both(asked, needed), enough))

    @staticmethod
    def known(value: Any) -> Expr:
        """Whether a value is there at all."""
        return either(value.yes, value.no) if isinstance(value, Truth) else value.there

    def _add_filter(self, part: PartSpec, row: Row) -> None:
        value = self.answers[part.index, row].value
        for code in self.release.lists[part.raw["code_list"]]:
            attributes = {**code["attributes"], "code": code["code"]}
            offered = self.translator.truth(part.raw["code_filter"], part, row, attributes)
            if isinstance(value, Chosen):
                self.base.append(z3.Implies(value.codes[code["code"]], offered.yes))
            else:
                chosen = both(value.there, value.value == self.translator.texts.number(code["code"]))
                self.base.append(z3.Implies(chosen, offered.yes))

    def there(self, place: Place) -> Expr:
        """Whether a place has a value."""
        return self.known(self.values[place])
