"""The formatter: the canonical form means the same, and formatting it again changes nothing."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from skavo.core.rules.faults import RuleSyntaxError, Span
from skavo.core.rules.format import format_rule
from skavo.core.rules.syntax import Node, parse_rule


@pytest.mark.parametrize(
    ("written", "canonical"),
    [
        ("a>3", "a > 3"),
        ("a=3 and(b!=4)", "a is 3 and b is not 4"),
        ("(a or b)and c", "(a or b) and c"),
        ("a or (b and c)", "a or b and c"),
        ("a or (b or c)", "a or (b or c)"),
        ("not  (a and b)", "not (a and b)"),
        ("not (a > 3)", "not a > 3"),
        ("(1+2)*3-(4-5)", "(1 + 2) * 3 - (4 - 5)"),
        ("-(a+b)", "-(a + b)"),
        ("- -a", "--a"),
        ("trade is one of(bicycle,phone)", "trade is one of (bicycle, phone)"),
        ("tools includes only ( saw )", "tools includes only (saw)"),
        ('plate   matches "99"', 'plate matches "99"'),
        ('plate matches pattern "[a-z]+"', 'plate matches pattern "[a-z]+"'),
        ("hours between 0 and(7)", "hours between 0 and 7"),
        ("sum( staff.hours  where role is not owner )/40", "sum(staff.hours where role is not owner) / 40"),
        ("if a then b else if c then d else e", "if a then b else if c then d else e"),
        ("if (if a then b else c) then d else e", "if (if a then b else c) then d else e"),
        ("if a then (if b then c else d) else e", "if a then (if b then c else d) else e"),
        ("(if a then 1 else 2) + 3", "(if a then 1 else 2) + 3"),
        ("opened+3 months<today", "opened + 3 months < today"),
        ("a > 3 # grown up\n and b # really", "a > 3 and b  # grown up · really"),
        ('t is "# no comment"', 't is "# no comment"'),
        ("workers is   not known", "workers is not known"),
        ("earlier.hours+1", "earlier.hours + 1"),
        ("14:30<clock", "14:30 < clock"),
    ],
)
def test_a_rule_has_one_canonical_form(written: str, canonical: str) -> None:
    assert format_rule(written) == canonical
    assert format_rule(canonical) == canonical


def test_what_is_no_rule_cannot_be_formatted() -> None:
    with pytest.raises(RuleSyntaxError):
        format_rule("a > ")


_names = st.sampled_from(["a", "b", "trade", "staff.hours", "3", "0.5", "2027-03-14", "14:30", "5 kg", '"x y"', "yes"])


def _pairs(inner: st.SearchStrategy[str]) -> st.SearchStrategy[str]:
    two = st.tuples(inner, inner)
    signs = st.sampled_from(["and", "or", "+", "-", "*", "/", "is", "is not", "<", ">=", "includes"])
    return st.one_of(
        st.tuples(inner, signs, inner).map(lambda t: f"({t[0]}) {t[1]} ({t[2]})"),
        inner.map(lambda x: f"not ({x})"),
        inner.map(lambda x: f"-({x})"),
        inner.map(lambda x: f"({x}) is missing"),
        two.map(lambda t: f"({t[0]}) is one of (({t[1]}), b)"),
        st.tuples(inner, inner, inner).map(lambda t: f"if {t[0]} then {t[1]} else {t[2]}"),
        st.tuples(inner, inner, inner).map(lambda t: f"({t[0]}) between ({t[1]}) and ({t[2]})"),
        two.map(lambda t: f"count(staff where {t[0]}) + round({t[1]}, 2)"),
    )


def _bare(node: Node) -> Node:
    where = _bare(node.where) if node.where is not None else None
    return replace(node, span=Span(0, 0), args=tuple(_bare(a) for a in node.args), where=where)


@given(st.recursive(_names, _pairs, max_leaves=12))
def test_the_canonical_form_means_the_same(text: str) -> None:
    canonical = format_rule(text)
    assert _bare(parse_rule(canonical)) == _bare(parse_rule(text))
    assert format_rule(canonical) == canonical
