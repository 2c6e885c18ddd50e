"""What may be better about a script: practice of the trade, no faults. Each can be set aside with a reason."""

from __future__ import annotations

from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.hints.answers import hint_answers
from skavo.core.questionnaire.hints.lists import hint_lists
from skavo.core.questionnaire.hints.standard import Standard, hint_standard
from skavo.core.questionnaire.hints.wordings import hint_wordings
from skavo.core.questionnaire.script import Script


def hints(script: Script, standard: Standard) -> list[Finding]:
    """All hints in the order of the script, those about the whole last."""
    found = [*hint_wordings(script), *hint_answers(script), *hint_lists(script), *hint_standard(script, standard)]
    return sorted(found, key=lambda f: (f.line is None, f.line or 0))


__all__ = ["Standard", "hints"]
