"""What is wrong with a rule, and where."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Span:
    """A stretch of the rule's text: `start` and `end` are character offsets, end excluded."""

    start: int
    end: int


@dataclass(frozen=True)
class Fault:
    """What is wrong with a rule: place, plain words and, where there is one, a mend."""

    code: str
    message: str
    span: Span
    mend: str = ""
    severity: str = "error"


class RuleSyntaxError(Exception):
    """Carries the one fault that keeps a text from being read as a rule."""

    def __init__(self, fault: Fault) -> None:
        super().__init__(fault.message)
        self.fault = fault
