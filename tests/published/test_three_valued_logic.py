"""Kleene's strong three-valued logic: S. C. Kleene, Introduction to Metamathematics (1952), § 64, p. 334.

t, f, u of the book are True, False and None here.
"""

from __future__ import annotations

from typing import Any

import pytest

from skavo.core.rules.evaluate import bind

T, F, U = True, False, None
AND = {(T, T): T, (T, F): F, (T, U): U, (F, T): F, (F, F): F, (F, U): F, (U, T): U, (U, F): F, (U, U): U}
OR = {(T, T): T, (T, F): T, (T, U): T, (F, T): T, (F, F): F, (F, U): U, (U, T): T, (U, F): U, (U, U): U}
NOT = {T: F, F: T, U: U}


def literal(value: Any) -> list[Any]:
    return ["literal", "yes/no", value]


@pytest.mark.parametrize(("left", "right"), list(AND))
def test_and_and_or_follow_the_strong_tables(left: Any, right: Any) -> None:
    assert bind(["and", literal(left), literal(right)])(None, ()) is AND[left, right]  # type: ignore[arg-type]
    assert bind(["or", literal(left), literal(right)])(None, ()) is OR[left, right]  # type: ignore[arg-type]


@pytest.mark.parametrize("value", list(NOT))
def test_not_follows_the_table(value: Any) -> None:
    assert bind(["not", literal(value)])(None, ()) is NOT[value]  # type: ignore[arg-type]
