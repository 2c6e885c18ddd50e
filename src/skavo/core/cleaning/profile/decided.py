"""What the plan has decided already, so that it does not stand out again."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from skavo.core.cleaning.plain_texts import folded
from skavo.core.cleaning.steps import AnyStep, Dictionary, Duplicates, InOrder


@dataclass(frozen=True)
class Decided:
    """`in_order` are the (variable, kind) of findings that are in order, and in how many rows; `apart` pairs of interviews
    that are not the same; `words` the texts, folded, of a variable that a dictionary knows, whatever it takes them into."""

    in_order: Mapping[tuple[str, str], int] = field(default_factory=dict)
    apart: frozenset[frozenset[str]] = frozenset()
    words: Mapping[str, frozenset[str]] = field(default_factory=dict)


def decided_by(steps: Iterable[AnyStep]) -> Decided:
    """What the steps of a plan that are on have decided."""
    in_order: dict[tuple[str, str], int] = {}
    apart: set[frozenset[str]] = set()
    words: dict[str, frozenset[str]] = {}
    for step in steps:
        if isinstance(step, InOrder):
            in_order[step.variable, step.finding] = step.count
        elif isinstance(step, Duplicates):
            apart |= {frozenset(pair) for pair in step.apart}
        elif isinstance(step, Dictionary):
            words[step.variable] = words.get(step.variable, frozenset()) | {folded(text) for text in step.words}
    return Decided(in_order, frozenset(apart), words)
