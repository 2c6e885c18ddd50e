"""Hints about what is asked for: sensitive and not marked, identifiers, numbers, a place."""

from __future__ import annotations

from collections.abc import Iterator

from skavo.core.interview.kinds import KINDS
from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.hints.words import COUNTED_IN, IDENTIFIER, OPEN_ENDED, PERSONAL, knows, said
from skavo.core.questionnaire.script import CodeList, Part, Script

_PLACES = ("point", "path", "area")
_FEWEST_CODES = 4


def hint_answers(script: Script) -> Iterator[Finding]:
    """Hints about single questions, then those about the whole."""
    confirmed = {part.reads_back for part in script.parts if part.kind == "read-back"}
    for line, part in enumerate(script.parts):

        def hint(code: str, field: str, message: str, mend: str, line: int = line, part: Part = part) -> Finding:
            return Finding("hint", code, message, mend, line, part.id, field)

        personal = said(PERSONAL, part.wording)
        if not part.sensitive and part.kind in _PLACES:
            yield hint(
                "not_marked", "sensitive", "A position tells where somebody lives or works.", "Mark it as sensitive."
            )
        elif not part.sensitive and part.kind in ("text", "date", "scanned code") and personal is not None:
            yield hint("not_marked", "sensitive", f"“{personal[0]}” tells who somebody is.", "Mark it as sensitive.")
        if part.kind == "text" and not part.mask and said(IDENTIFIER, part.wording) and part.variable not in confirmed:
            message = "One wrong sign here, and this is not found again."
            yield hint("no_read_back", "kind", message, "Let it be read back, or give it a mask with a check digit.")
        if part.kind == "decimal" and knows(COUNTED_IN, part.wording) and not said(COUNTED_IN, part.wording):
            yield hint(
                "no_unit",
                "wording",
                "It does not say in what this is counted.",
                "Say it in the wording, or ask for a quantity.",
            )
        codes = script.list_named(part.code_list) if part.kind in ("single answer", "multiple answer") else None
        if codes is not None and said(OPEN_ENDED, part.wording) and _has_no_other(codes):
            message = f"Somebody may have an answer in mind that {codes.name} does not have."
            yield hint("no_other", "code_list", message, "Add a code for another answer, which asks what it is.")
    asks = any(KINDS[p.kind].takes_answer for p in script.parts if p.kind in KINDS)
    if asks and script.paradata.place and not any(p.id == script.paradata.told_by for p in script.parts):
        message = "The phone notes where each interview begins, and no statement tells respondents so."
        yield Finding("hint", "not_told", message, "Put the statement into the script: What the phone notes.")
    if asks and not script.paradata.place and not _has_place(script):
        message = "Nowhere a position is taken: later nobody can tell where an interview was made."
        yield Finding("hint", "no_place", message, "Ask for a point at arrival.")


def _has_no_other(codes: CodeList) -> bool:
    """Whether a list of some length has no way out; one that hangs under another is a list of places or the like."""
    if len(codes.codes) < _FEWEST_CODES or any(code.attributes for code in codes.codes):
        return False
    return not any(code.specify or code.exclusive for code in codes.codes)


def _has_place(script: Script) -> bool:
    return any(part.kind in _PLACES for part in script.parts)
