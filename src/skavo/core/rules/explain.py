"""A rule in plain words, and why it came out as it did."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import groupby
from typing import Any

from skavo.core.rules.check import Checker
from skavo.core.rules.evaluate import bind
from skavo.core.rules.format import format_node
from skavo.core.rules.state import Row, State, variables_in
from skavo.core.rules.syntax import Node, parse_rule
from skavo.core.rules.types import Scope, Type, Typed, sentence

Label = Callable[[str, str], str]
Show = Callable[[Type, Any], str]


@dataclass(frozen=True)
class Step:
    """One part of a rule with what it gave: `depth` says how deep it stands, `outcome` is yes, no, unknown or a value.

    `because` names the answers it rests on, as in `workers is 3`; empty where its parts below say it.
    """

    depth: int
    text: str
    words: str
    outcome: str
    because: str = ""


def explain_rule(text: str, scope: Scope, label: Label) -> str:
    """The rule as a sentence; `label` gives a code's label. Raise RuleSyntaxError where it is no rule.

    A rule with an error has no meaning to say; it comes back as it is written.
    """
    node = parse_rule(text)
    words = _Words(scope, label)
    words.checker.check(node)
    if words.checker.has_errors:
        return format_node(node)
    said = words.say(node)
    # A variable keeps the way it is written, also at the beginning.
    return (said if said.split(maxsplit=1)[0] in scope.symbols else sentence(said)) + "."


def explain_outcome(text: str, scope: Scope, label: Label, show: Show, state: State, row: Row) -> list[Step]:
    """Why the rule came out as it did with the answers of `state`: the whole first, then its parts, part by part.

    Nothing comes of a rule with an error.
    """
    node = parse_rule(text)
    words = _Words(scope, label)
    words.checker.check(node)
    return [] if words.checker.has_errors else list(_Outcome(words, show, state, row).steps(node, 0))


class _Words:
    """Says each form of the language in words. One method for each op of the grammar that needs its own."""

    def __init__(self, scope: Scope, label: Label) -> None:
        self.scope = scope
        self.label = label
        self.checker = Checker(scope)

    def typed(self, node: Node) -> Typed | None:
        return self.checker.trees.get(id(node))

    def kind(self, node: Node) -> Type | None:
        typed = self.typed(node)
        return typed[1] if typed else None

    def say(self, node: Node) -> str:
        op, args = node.op, node.args
        if op in _PLAIN:
            return _PLAIN[op].format(*[self.say(a) for a in args])
        method: Callable[[Node], str] | None = getattr(self, f"_{op.rstrip('_')}", None)
        return method(node) if method is not None else format_node(node)

    def _and(self, node: Node) -> str:
        parts = _flat(node, "and_")
        return _listed([self._within(p) for p in parts], "and")

    def _or(self, node: Node) -> str:
        return _listed([self._within(p) for p in _flat(node, "or_")], "or")

    def _within(self, node: Node) -> str:
        said = self.say(node)
        return f"({said})" if node.op in ("and_", "or_", "if_") else said

    def _not(self, node: Node) -> str:
        inner = node.args[0]
        if inner.op in ("name", "dotted"):
            return f"{self.say(inner)} is no"
        return f"it is not so that {self._within(inner)}"

    def _name(self, node: Node) -> str:
        if node.text == "row":
            return "the number of the row"
        return {"today": "today", "now": "this moment", "unit": "the unit"}.get(node.text, node.text)

    def _dotted(self, node: Node) -> str:
        owner, name = (a.text for a in node.args)
        whole = {
            "interview.started": "the moment the interview was started",
            "interview.language": "the language of the interview",
            "enumerator.name": "the enumerator’s name",
        }.get(f"{owner}.{name}")
        if whole:
            return whole
        if owner == "earlier":
            return f"{name} in the earlier round"
        if owner == self.scope.filtered_list:
            return f"the {name} of the code"
        symbol = self.scope.symbols.get(owner)
        if owner == "unit" or (symbol is not None and symbol.type.name == "unit"):
            return f"the {name} of {'the unit' if owner == 'unit' else owner}"
        return name

    def _value(self, node: Node, against: Node) -> str:
        """A side of a comparison; a bare code by its label."""
        kind = self.kind(against)
        bare = node.text[1:-1] if node.op == "text" else node.text
        if kind is not None and kind.code_list and bare in set(self.scope.codes(kind.code_list)):
            return f"“{self.label(kind.code_list, bare)}”"
        return self.say(node)

    def _equality(self, node: Node, word: str) -> str:
        left, right = node.args
        return f"{self._value(left, right)} {word} {self._value(right, left)}"

    def _is(self, node: Node) -> str:
        return self._equality(node, "is")

    def _is_not(self, node: Node) -> str:
        return self._equality(node, "is not")

    def _membership(self, node: Node, word: str, joined: str) -> str:
        value, items = node.args
        return f"{self.say(value)} {word} {_listed([self._value(i, value) for i in items.args], joined)}"

    def _one_of(self, node: Node) -> str:
        return self._membership(node, "is", "or")

    def _none_of(self, node: Node) -> str:
        return self._membership(node, "is neither", "nor")

    def _includes(self, node: Node) -> str:
        return f"{self.say(node.args[0])} includes {self._value(node.args[1], node.args[0])}"

    def _includes_any(self, node: Node) -> str:
        return self._membership(node, "includes at least one of", "and")

    def _includes_all(self, node: Node) -> str:
        return self._membership(node, "includes all of", "and")

    def _includes_only(self, node: Node) -> str:
        return self._membership(node, "includes nothing but", "and")

    def _matches_mask(self, node: Node) -> str:
        return f"{self.say(node.args[0])} is written as {mask_words(node.args[1].text[1:-1])}"

    def _matches_pattern(self, node: Node) -> str:
        return f"{self.say(node.args[0])} fits the pattern {node.args[1].text}"

    def _call(self, node: Node) -> str:
        if node.text in _OVER_ROWS:
            return self._over_rows(node)
        if node.text == "different":
            return self._different(node)
        said = [self.say(a) for a in node.args]
        if node.text == "occurs":
            return f"how many of {_listed(said[1:], 'and')} are {said[0]}"
        if node.text in ("smallest", "largest", "join"):
            start = {"smallest": "the smallest of", "largest": "the largest of", "join": "the text of"}[node.text]
            return f"{start} {_listed(said, 'and')}"
        return _CALLS.get(node.text, format_node(node)).format(*said)

    def _different(self, node: Node) -> str:
        if len(node.args) > 1:
            return f"{_listed([self.say(a) for a in node.args], 'and')} all differ"
        roster, variable = (a.text for a in node.args[0].args)
        condition = f" where {self.say(node.where)}" if node.where is not None else ""
        return f"no two rows of {roster}{condition} have the same {variable}"

    def _over_rows(self, node: Node) -> str:
        target = node.args[0]
        kind = self.kind(target)
        if node.text == "count" and kind is not None and kind.name == "codes":
            return f"the number of codes chosen in {target.text}"
        roster = target.args[0].text if target.op == "dotted" else target.text
        variable = target.args[1].text if target.op == "dotted" else ""
        condition = f" where {self.say(node.where)}" if node.where is not None else ""
        if node.text == "any":
            return f"in at least one row of {roster}, {self.say(node.where) if node.where else ''}"
        if node.text == "every":
            return f"in every row of {roster}, {self.say(node.where) if node.where else ''}"
        return _OVER_ROWS[node.text].format(variable, f"{roster}{condition}")


class _Outcome:
    def __init__(self, words: _Words, show: Show, state: State, row: Row) -> None:
        self.words, self.show, self.state, self.row = words, show, state, row

    def steps(self, node: Node, depth: int) -> Iterator[Step]:
        typed = self.words.typed(node)
        if typed is None:
            return
        tree, kind = typed
        inner = list(_parts(node))
        because = "" if inner else self._because(tree)
        yield Step(depth, format_node(node), self.words.say(node), self._shown(tree, kind), because)
        for part in inner:
            yield from self.steps(part, depth + 1)

    def _shown(self, tree: Any, kind: Type) -> str:
        value = bind(tree)(self.state, self.row)
        if value is None:
            return "unknown" if kind.name == "yes/no" else "missing"
        return {True: "yes", False: "no"}[value] if isinstance(value, bool) else self.show(kind, value)

    def _because(self, tree: Any) -> str:
        names = {s.index: s for s in self.words.scope.symbols.values()}
        told = []
        for index in sorted(variables_in(tree)):
            symbol = names.get(index)
            if symbol is None:
                continue
            if symbol.type.name == "rows":
                rows = self.state.rows[index].get(self.row[: len(symbol.rosters)], [])
                told.append(f"{symbol.name} has {len(rows)} {'row' if len(rows) == 1 else 'rows'}")
            elif self.words.scope.rosters[: len(symbol.rosters)] == symbol.rosters:
                told.append(f"{symbol.name} {self._said(symbol.index, self.row[: len(symbol.rosters)], symbol.type)}")
        return ", ".join([*told, *self._rows_said(tree)])

    def _rows_said(self, tree: Any) -> Iterator[str]:
        """What the rows stand for that a rule speaks of by the name of their roster."""
        scope = self.words.scope
        for depth in sorted(_rows_in(tree)):
            roster = scope.rosters[depth - 1]
            yield f"{scope.roster_names[roster]} is {self.show(scope.row_types[roster], self.row[depth - 1])}"

    def _said(self, index: int, row: Row, kind: Type) -> str:
        if row in self.state.values[index]:
            return f"is {self.show(kind, self.state.values[index][row])}"
        special = self.state.special[index].get(row)
        if special:
            return {"dont_know": "is answered with don’t know", "refused": "is refused"}[special]
        return "has no answer yet" if self.state.asked[index].get(row) else "is not asked"


def _rows_in(tree: Any) -> set[int]:
    """How deep the rows stand whose code or unit a rule reads."""
    if not isinstance(tree, list) or not tree or tree[0] == "literal":
        return set()
    if tree[0] == "row_name":
        return {tree[1]}
    # What an aggregate reads of its rows belongs to other rows than the one at hand.
    return set() if tree[0] == "aggregate" else set().union(*map(_rows_in, tree))


def _parts(node: Node) -> Iterator[Node]:
    """The parts of a rule that come out by themselves."""
    if node.op in ("and_", "or_"):
        yield from _flat(node, node.op)
    elif node.op in ("not_", "if_"):
        yield from node.args


def _flat(node: Node, op: str) -> list[Node]:
    if node.op != op:
        return [node]
    return [part for arg in node.args for part in _flat(arg, op)]


def _listed(parts: list[str], word: str) -> str:
    return parts[0] if len(parts) == 1 else f"{', '.join(parts[:-1])} {word} {parts[-1]}"


_NUMBERS = ["", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"]
_MASK = {"A": ("letter", "letters"), "9": ("digit", "digits"), "*": ("letter or digit", "letters or digits")}


def mask_words(mask: str) -> str:
    """A mask in words.

    >>> mask_words("****_999999")
    'four letters or digits, “_”, six digits'
    """
    signs = [(c, mask[i + 1 : i + 2] == "?") for i, c in enumerate(mask) if c != "?" or i == 0]
    told = []
    for (sign, optional), run in groupby(signs):
        count = len(list(run))
        if sign in _MASK:
            number = _NUMBERS[count] if count < len(_NUMBERS) else str(count)
            words = f"{'up to ' if optional else ''}{number} {_MASK[sign][count > 1]}"
        else:
            words = f"“{sign * count}”{' or nothing' if optional else ''}"
        told.append(words)
    return ", ".join(told)


_PLAIN = {
    "lt": "{} is below {}",
    "le": "{} is at most {}",
    "gt": "{} is above {}",
    "ge": "{} is at least {}",
    "between": "{} is from {} to {}",
    "add": "{} plus {}",
    "subtract": "{} minus {}",
    "multiply": "{} times {}",
    "divide": "{} divided by {}",
    "negative": "minus {}",
    "if_": "if {}, then {}, otherwise {}",
    "is_answered": "{} has an answer",
    "is_missing": "{} has no answer",
    "is_not_known": "{} is answered with don’t know",
    "is_refused": "{} is refused",
    "was_asked": "{} was asked",
}
_OVER_ROWS = {
    "sum": "all {} of {} added up",
    "mean": "the mean of {} over {}",
    "lowest": "the lowest {} of {}",
    "highest": "the highest {} of {}",
    "first": "the first {} of {}",
    "count": "the number of rows of {1}",
    "any": "",
    "every": "",
}
_CALLS = {
    "round": "{} rounded to {} places",
    "floor": "{} rounded down",
    "ceiling": "{} rounded up",
    "abs": "{} without its sign",
    "remainder": "what is left of {} divided by {}",
    "length": "the length of {}",
    "upper": "{} in capital letters",
    "lower": "{} in small letters",
    "trim": "{} without spaces at its ends",
    "check_digit_ok": "the check digit of {} is right ({})",
    "days": "the days from {} to {}",
    "months": "the completed months from {} to {}",
    "years": "the completed years from {} to {}",
    "year": "the year of {}",
    "month": "the month of {}",
    "day": "the day of the month of {}",
    "weekday": "the weekday of {} (1 is Monday)",
    "distance": "the metres between {} and {}",
    "size": "the square metres of {}",
    "inside": "{} lies in {}",
    "accuracy": "the metres that {} may be off",
    "label": "the label of {}",
}
