"""Rule text to a syntax tree with places, or an error that says what is wrong and where."""

from __future__ import annotations

import difflib
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from lark import Lark, Token, Tree
from lark.exceptions import UnexpectedCharacters, UnexpectedEOF, UnexpectedInput, UnexpectedToken

from skavo.core.rules.faults import Fault, RuleSyntaxError, Span
from skavo.core.rules.phrasings import phrasing_fault


@dataclass(frozen=True)
class Node:
    """One piece of a rule: `op` names the form (grammar.lark), `args` its parts, `text` a literal's own text."""

    op: str
    args: tuple[Node, ...]
    span: Span
    text: str = ""
    where: Node | None = None


@lru_cache(maxsize=1)
def _parser() -> Lark:
    grammar = Path(__file__).with_name("grammar.lark").read_text(encoding="utf-8")
    return Lark(grammar, parser="lalr", lexer="basic", propagate_positions=True, maybe_placeholders=True)


MOST_NESTED = 60


@lru_cache(maxsize=16384)
def parse_rule(text: str) -> Node:
    """Return the syntax tree of `text`; raise RuleSyntaxError with the first fault met."""
    if not text.strip():
        raise RuleSyntaxError(
            Fault("empty_rule", "The rule is empty.", Span(0, len(text)), "Write a rule or remove it.")
        )
    try:
        tree = _parser().parse(text)
        if _depth(tree) > MOST_NESTED:
            raise RuleSyntaxError(
                Fault(
                    "too_nested", f"The rule is nested more than {MOST_NESTED} deep.", Span(0, len(text)),
                    "Give a part of it a name of its own, as a derived value.",
                )
            )  # fmt: skip
        return _node(tree)
    except UnexpectedInput as error:
        fault = _explain(error, text)
        at = len(text.rstrip()) if fault.code == "unfinished" else fault.span.start
        raise RuleSyntaxError(phrasing_fault(text, at) or fault) from None


def _depth(tree: Tree[Token]) -> int:
    """How deep a tree is; counted without recursion, so that none is too deep to be counted."""
    deepest, ahead = 0, [(tree, 1)]
    while ahead:
        item, depth = ahead.pop()
        deepest = max(deepest, depth)
        ahead += [(child, depth + 1) for child in item.children if isinstance(child, Tree)]
    return deepest


def _node(item: Tree[Token] | Token) -> Node:
    if isinstance(item, Token):
        start = item.start_pos or 0
        return Node(str(item.type).lower(), (), Span(start, start + len(item)), str(item))
    span = Span(item.meta.start_pos, item.meta.end_pos)
    op = str(item.data)
    if op in ("number", "text", "date", "time", "name", "yes", "no"):
        return Node(op, (), span, str(item.children[0]) if item.children else op)
    if op in ("amount", "dotted"):
        return Node(op, tuple(_node(child) for child in item.children), span)
    if op == "call":
        name, *arguments, where = item.children
        assert isinstance(name, Tree)
        args = tuple(_node(a) for a in arguments if a is not None)
        return Node("call", args, span, str(name.children[0]), _node(where) if where is not None else None)
    return Node(op, tuple(_node(child) for child in item.children if not _is_keyword(child)), span)


def _is_keyword(child: object) -> bool:
    return child is None or (isinstance(child, Token) and child.type in _SOFT_KEYWORDS)


_SOFT_KEYWORDS = {"ONE", "NONE", "ALL", "ONLY", "PATTERN", "ANY"}


_KEYWORDS = [
    "and", "or", "not", "if", "then", "else", "is", "between", "includes", "matches", "where", "was", "answered",
    "missing", "known", "refused", "asked", "of", "yes", "no",
]  # fmt: skip
_EXPECTED = {
    "NAME": "a value",
    "RPAR": "a closing bracket",
    "THEN": "then",
    "ELSE": "else",
    "AND": "and",
    "OF": "of",
    "STRING": 'a text in double quotes, "like this"',
    "LPAR": "an opening bracket",
}


def _explain(error: UnexpectedInput, text: str) -> Fault:
    if isinstance(error, UnexpectedCharacters):
        at = error.pos_in_stream or 0
        found = text[at]
        if found == '"':
            return Fault("open_text", "This text has no closing quote.", Span(at, len(text)), 'Close it with ".')
        if found in "'‘’“”":
            return Fault(
                "wrong_quote", "Texts stand in straight double quotes.", Span(at, at + 1), 'Use " on both sides.'
            )
        return Fault("wrong_character", f"“{found}” has no meaning in a rule.", Span(at, at + 1), "Remove it.")
    if isinstance(error, UnexpectedToken) and error.token.type != "$END":
        token = error.token
        at = token.start_pos or 0
        span = Span(at, at + len(token))
        wanted = [words for key, words in _EXPECTED.items() if key in error.accepts]
        meant = (
            difflib.get_close_matches(str(token).lower(), _KEYWORDS, n=1, cutoff=0.7) if token.type == "NAME" else []
        )
        mend = f"Expected {wanted[0]} here." if wanted else "Check the words before it."
        mend = f"Did you mean {meant[0]}?" if meant else mend
        return Fault("unexpected", f"“{token}” cannot stand here.", span, mend)
    accepts = error.accepts if isinstance(error, UnexpectedToken) else set()
    wanted = [words for key, words in _EXPECTED.items() if key in accepts]
    end = len(text.rstrip())
    place = Span(max(0, end - 1), end)
    missing = (
        f"{wanted[0]} is missing"
        if wanted and isinstance(error, UnexpectedToken | UnexpectedEOF)
        else "something is missing"
    )
    return Fault("unfinished", f"The rule stops too early: {missing}.", place, "Finish the sentence.")
