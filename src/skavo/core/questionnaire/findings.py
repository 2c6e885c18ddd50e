"""What is wrong with a script, or may be: one finding a fault, with its place and a mend."""

from __future__ import annotations

from dataclasses import dataclass

from skavo.core.rules.faults import Fault


@dataclass(frozen=True)
class Finding:
    """`line` is the part's line in the script (None: the whole), `field` the column, `start` and `length` the place
    in the field's text. `field` is a name of Part, with an index for checks and a language for texts:
    `asked_when`, `must_hold.0.rule`, `wording.fr`. A finding about a list names it, and `item` is the code."""

    severity: str
    code: str
    message: str
    mend: str = ""
    line: int | None = None
    part_id: str = ""
    field: str = ""
    start: int = 0
    length: int = 0
    code_list: str = ""
    unit_list: str = ""
    item: str = ""


def from_fault(fault: Fault, line: int, part_id: str, field: str, offset: int = 0) -> Finding:
    """A fault of a rule as a finding of the script; `offset` is where the rule begins in the field."""
    length = fault.span.end - fault.span.start
    return Finding(
        fault.severity, fault.code, fault.message, fault.mend, line, part_id, field, offset + fault.span.start, length
    )


def counted(number: int, word: str) -> str:
    """`1 error`, `2 errors`."""
    return f"{number} {word}{'' if number == 1 else 's'}"
