"""What is wrong with a pattern in a rule, said before anybody answers."""

from __future__ import annotations

import re

from skavo.core.rules.automaton import NoAutomaton, automaton_of

_LONGEST = 300


def pattern_fault(pattern: str) -> tuple[str, str, str] | None:
    """(code, message, mend) of what is wrong with a pattern, or None. No pattern can run away: an automaton follows it."""
    if len(pattern) > _LONGEST:
        return (
            "long_pattern", f"The pattern has {len(pattern)} characters; {_LONGEST} is the most.",
            "Split the rule in two.",
        )  # fmt: skip
    try:
        automaton_of(pattern)
    except re.error as error:
        return (
            "wrong_pattern", f"The pattern cannot be read: {error.msg}.",
            "Write \\ before a character meant as itself.",
        )  # fmt: skip
    except (OverflowError, RecursionError):
        return "wrong_pattern", "The pattern is nested too deeply.", "Split the rule in two."
    except NoAutomaton as refused:
        return (
            "no_such_pattern", f"The pattern {refused.reason}, which is not to be had here.",
            "Write the text out, or two rules with and between them.",
        )  # fmt: skip
    return None
