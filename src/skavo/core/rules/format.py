"""The canonical form of a rule: one way of spacing, brackets only where they change the meaning."""

from __future__ import annotations

import re

from skavo.core.rules.syntax import Node, parse_rule

_COMMENT = re.compile(r'"[^"\n]*"|#[ \t]*([^\n]*)')

# How tightly each form holds its parts; a looser one inside a tighter one stands in brackets.
IF, OR, AND, NOT, COMPARING, SUM, PRODUCT, UNARY, ATOM = range(9)

_TIGHTNESS = {
    "if_": IF, "or_": OR, "and_": AND, "not_": NOT, "add": SUM, "subtract": SUM, "multiply": PRODUCT,
    "divide": PRODUCT, "negative": UNARY,
}  # fmt: skip
_ATOMS = ("number", "amount", "text", "date", "time", "yes", "no", "name", "dotted", "call")
_SIGNS = {
    "add": "+", "subtract": "-", "multiply": "*", "divide": "/", "is_": "is", "is_not": "is not", "lt": "<",
    "le": "<=", "gt": ">", "ge": ">=", "includes": "includes",
}  # fmt: skip
_LISTS = {
    "one_of": "is one of", "none_of": "is none of", "includes_any": "includes any of",
    "includes_all": "includes all of", "includes_only": "includes only",
}  # fmt: skip
_STATES = {
    "is_answered": "is answered", "is_missing": "is missing", "is_not_known": "is not known",
    "is_refused": "is refused", "was_asked": "was asked",
}  # fmt: skip
_MATCHES = {"matches_mask": "matches", "matches_pattern": "matches pattern"}


def format_rule(text: str) -> str:
    """The canonical form of a rule's text, its comments behind it; raise RuleSyntaxError where it is no rule.

    >>> format_rule("(a>3)and not(b is  yes)  # grown up")
    'a > 3 and not b is yes  # grown up'
    """
    comments = [c.strip() for m in _COMMENT.finditer(text) if (c := m[1]) is not None and c.strip()]
    plain = format_node(parse_rule(text))
    return f"{plain}  # {' · '.join(comments)}" if comments else plain


def format_node(node: Node) -> str:
    """A syntax tree as text."""
    op, args = node.op, node.args
    if op in _ATOMS:
        return _atom(node)
    if op == "if_":
        condition, yes, no = (format_node(a) for a in args)
        if args[1].op == "if_":
            yes = f"({yes})"
        return f"if {condition if args[0].op != 'if_' else f'({condition})'} then {yes} else {no}"
    if op in ("and_", "or_"):
        level = _TIGHTNESS[op]
        word = " and " if op == "and_" else " or "
        return _inside(args[0], level) + word + _inside(args[1], level + 1)
    if op == "not_":
        return f"not {_inside(args[0], NOT)}"
    if op in ("add", "subtract", "multiply", "divide"):
        level = _TIGHTNESS[op]
        return f"{_inside(args[0], level)} {_SIGNS[op]} {_inside(args[1], level + 1)}"
    if op == "negative":
        return f"-{_inside(args[0], UNARY)}"
    return _comparison(node)


def _inside(node: Node, least: int) -> str:
    text = format_node(node)
    return text if tightness(node) >= least else f"({text})"


def tightness(node: Node) -> int:
    """How tightly a form holds its parts."""
    if node.op in _ATOMS:
        return ATOM
    return _TIGHTNESS.get(node.op, COMPARING)


def _comparison(node: Node) -> str:
    op, args = node.op, node.args
    left = _inside(args[0], SUM)
    if op in _STATES:
        return f"{left} {_STATES[op]}"
    if op == "between":
        return f"{left} between {_inside(args[1], SUM)} and {_inside(args[2], SUM)}"
    if op in _LISTS:
        return f"{left} {_LISTS[op]} ({', '.join(_inside(item, SUM) for item in args[1].args)})"
    if op in _MATCHES:
        return f"{left} {_MATCHES[op]} {args[1].text}"
    return f"{left} {_SIGNS[op]} {_inside(args[1], SUM)}"


def _atom(node: Node) -> str:
    if node.op == "amount":
        return " ".join(a.text for a in node.args)
    if node.op == "dotted":
        return ".".join(a.text for a in node.args)
    if node.op == "call":
        inner = ", ".join(format_node(a) for a in node.args)
        where = f" where {format_node(node.where)}" if node.where is not None else ""
        return f"{node.text}({inner}{where})"
    return node.text
