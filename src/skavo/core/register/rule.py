"""A rule over the fields of a kind of unit, typed by somebody, as a test of units."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

from skavo.core.errors import DataError
from skavo.core.interview.release import Release
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import Part, Script
from skavo.core.register.changes import Answers
from skavo.core.register.form import UnitForm

_TEST = "meets_the_rule_typed"


def units_meeting(fields: Script, rule: str) -> Callable[[Answers, datetime], bool]:
    """Whether a unit with these answers meets a rule at a moment; what is missing meets nothing.

    `fields` is the script of the kind. Raise DataError, with the place in the rule, where it cannot be read, or does not
    say yes or no.
    """
    script = fields.model_copy(deep=True)
    script.parts.append(Part(id=_TEST, kind="derived value", variable=_TEST, derived=rule))
    compiled = compile_script(script)
    for fault in compiled.errors:
        if fault.part_id == _TEST:
            raise DataError("wrong_rule", f"The rule: {fault.message} {fault.mend}".strip(), {"field": "rule"})
    if compiled.release is None:
        raise DataError("has_errors", "The fields of this kind have errors. Mend them first.")
    form = UnitForm(Release(compiled.release))
    part = form.by_id[_TEST]
    if part.raw["type"] != "yes/no":
        raise DataError("wrong_rule", "The rule says no yes or no: compare something, as in opened >= 2000.")

    def meets(answers: Answers, at: datetime) -> bool:
        return form.engine(answers, at).values[part.index].get(()) is True

    return meets
