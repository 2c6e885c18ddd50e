"""Which variables and codes a rule mentions, and where: what a renaming has to change and what it must leave alone.

A word of a rule may be a variable, a code, an attribute of a list or a field of a register. The checker knows which:
only what it looked up as a value, and the rosters that an aggregate goes over, are variables.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from skavo.core.rules.check import Checker
from skavo.core.rules.faults import RuleSyntaxError, Span
from skavo.core.rules.functions import AGGREGATE_WORDS
from skavo.core.rules.syntax import Node, parse_rule
from skavo.core.rules.types import Scope

_WORD = re.compile(r'"[^"\n]*"|#[^\n]*|[A-Za-z_]\w*')


@dataclass(frozen=True)
class Mention:
    """A variable and the place of its name in the rule's text."""

    variable: str
    span: Span


def mentions_in(text: str, scope: Scope) -> list[Mention]:
    """The variables that a rule mentions, from left to right; every word that may be one, while the rule has errors.

    `scope` is that of the rule's place, with nothing of it hidden or asked later.
    """
    try:
        node = parse_rule(text)
    except RuleSyntaxError:
        return [Mention(m[0], Span(m.start(), m.end())) for m in _WORD.finditer(text) if m[0] in scope.symbols]
    checker = Checker(scope)
    checker.check(node)
    return sorted(_mentions(node, checker), key=lambda m: m.span.start)


def _mentions(node: Node, checker: Checker) -> Iterator[Mention]:
    symbols = checker.scope.symbols
    if node.op == "name":
        # What stands behind a fault was not looked up, and may be one.
        if node.text in symbols and (id(node) in checker.trees or checker.has_errors):
            yield Mention(node.text, node.span)
        return
    if node.op == "dotted":
        yield from _dotted(node, checker)
        return
    for number, argument in enumerate(node.args):
        # What an aggregate goes over is not looked up as a value.
        over = node.op == "call" and node.text in AGGREGATE_WORDS and number == 0
        if over and argument.op == "name" and argument.text in symbols:
            yield Mention(argument.text, argument.span)
        else:
            yield from _mentions(argument, checker)
    if node.where is not None:
        yield from _mentions(node.where, checker)


def _dotted(node: Node, checker: Checker) -> Iterator[Mention]:
    owner, name = node.args
    scope = checker.scope
    if owner.text == scope.filtered_list:
        return
    symbol = scope.symbols.get(owner.text)
    if symbol is not None:
        yield Mention(owner.text, owner.span)
    of_variable = owner.text == "earlier" or (symbol is not None and symbol.type.name == "rows")
    if of_variable and name.text in scope.symbols:
        yield Mention(name.text, name.span)


def rename_in_rule(text: str, scope: Scope, names: Mapping[str, str]) -> str:
    """The same rule with variables called otherwise; everything else stays as it was typed."""
    for mention in reversed(mentions_in(text, scope)):
        if mention.variable in names:
            text = text[: mention.span.start] + names[mention.variable] + text[mention.span.end :]
    return text


def recode_in_rule(text: str, scope: Scope, codes: Mapping[str, Mapping[str, str]]) -> str:
    """The same rule with codes called otherwise: `codes` leads from a list to its old codes and their new names."""
    try:
        node = parse_rule(text)
    except RuleSyntaxError:
        return text
    checker = Checker(scope)
    checker.check(node)
    # A code may be looked up more than once, as by a form that is checked both ways round.
    places = {place.span.start: (place, code_list) for place, code_list in checker.codes}
    for _, (place, code_list) in sorted(places.items(), reverse=True):
        new = codes.get(code_list, {}).get(place.text.strip('"'))
        if new is not None:
            text = text[: place.span.start] + written_code(new, scope) + text[place.span.end :]
    return text


def written_code(code: str, scope: Scope) -> str:
    """A code as a rule names it: bare where it can be nothing else, else in quotes."""
    if code.isdecimal():
        return code
    try:
        node = parse_rule(code)
    except RuleSyntaxError:
        return f'"{code}"'
    return code if node.op == "name" and node.text == code and code not in scope.symbols else f'"{code}"'
