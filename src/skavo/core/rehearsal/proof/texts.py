"""Texts and codes for the solver: each is a number, and whether it fits a mask or a pattern is a function of it."""

from __future__ import annotations

from typing import Any

import z3

from skavo.core.rehearsal.proof.symbols import Expr
from skavo.core.rules.automaton import text_fits

# `mask` or `pattern`, and how it is written.
Form = tuple[str, str]


class Texts:
    """The texts that rules name. What has to hold of them is added to `facts`."""

    def __init__(self, facts: list[Expr]) -> None:
        self._facts = facts
        self._numbers: dict[str, int] = {}
        # Whether a text fits, by form: left open, but alike for equal texts and right for known ones.
        self.fits: dict[Form, Any] = {}

    def number(self, text: str) -> int:
        """The number that stands for a text or a code."""
        if text not in self._numbers:
            self._numbers[text] = len(self._numbers)
            for form in self.fits:
                self._tell(form, text)
        return self._numbers[text]

    def value(self, text: str) -> Expr:
        """The same as an expression."""
        return z3.IntVal(self.number(text))

    def known(self, number: int) -> str | None:
        """The text that a number stands for; None for one that no rule names."""
        return next((text for text, n in self._numbers.items() if n == number), None)

    def matching(self, form: str, pattern: str, text: Expr) -> Expr:
        """Whether a text fits a mask or a pattern."""
        key = (form, pattern)
        if key not in self.fits:
            self.fits[key] = z3.Function(f"{form} {pattern}", z3.IntSort(), z3.BoolSort())
            for known in self._numbers:
                self._tell(key, known)
        return self.fits[key](text)

    def _tell(self, form: Form, text: str) -> None:
        self._facts.append(self.fits[form](self._numbers[text]) == text_fits(*form, text))
