"""Which variables the steps of a plan name, where, and how they are called once they are renamed."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from skavo.core.cleaning.steps import AnyStep, Convert, Derive, Dictionary, Gather, Present, RowsOut, Split
from skavo.core.dataset.layout import INTERVIEWS

# Fields that name one variable or several. `into` does so only where it is not the step that makes it.
_ONE, _SEVERAL, _RULES = ("variable", "amount", "before"), ("by", "variables"), ("rule", "formula")


def renamed_step(step: AnyStep, variable: Callable[[str], str], rule: Callable[[str, str], str]) -> AnyStep:
    """The step with its variables called otherwise; `rule` is given a rule and the variable or table it stands beside."""
    beside = step.table if isinstance(step, Derive | RowsOut) else getattr(step, "variable", INTERVIEWS)
    update: dict[str, Any] = {}
    for name in type(step).model_fields:
        value = getattr(step, name)
        if (
            name in _ONE
            or (name == "table")
            or (name == "unit" and isinstance(step, Convert))
            or (name == "into" and isinstance(step, Dictionary))
        ):
            update[name] = variable(value)
        elif name in _SEVERAL:
            update[name] = [variable(one) for one in value]
        elif name in _RULES:
            update[name] = rule(value, beside)
        elif name == "factors":
            update[name] = {unit: rule(factor, beside) for unit, factor in value.items()}
        elif name == "codes" and isinstance(step, Gather):
            update[name] = {code: variable(of) for code, of in value.items()}
    return step.model_copy(update=update)


def made_by(step: AnyStep) -> list[str]:
    """The names that variables have by a step and did not have before."""
    if isinstance(step, Split):
        return list(step.into)
    if isinstance(step, Present):
        return [step.name] if step.name else []
    return [] if isinstance(step, Dictionary) or not hasattr(step, "into") else [step.into]
