"""Where an answer leads on paper: the questions behind it that it alone rules out are skipped."""

from __future__ import annotations

from typing import Any, Literal

from skavo.core.interview.release import PartSpec, Release
from skavo.core.rules.evaluate import bind
from skavo.core.rules.state import Row, Tree, reads_of

# Leads to the end of the questionnaire, or of the line of a table.
END = -1


class _Answered:
    """A state in which one part is answered alike in every row, and nothing else is known."""

    def __init__(self, release: Release, index: int, value: Any) -> None:
        parts = len(release.parts)
        self.values: list[dict[Row, Any]] = [{} for _ in range(parts)]
        self.special: list[dict[Row, str]] = [{} for _ in range(parts)]
        self.asked: list[dict[Row, bool]] = [{} for _ in range(parts)]
        self.rows: list[dict[Row, list[Any]]] = [{} for _ in range(parts)]
        self.outside: dict[str, Any] = {}
        row = _row_of(release.parts[index])
        self.values[index][row] = value
        self.asked[index][row] = True

    def label(self, code_list: str, code: str) -> str:
        return code


def _row_of(part: PartSpec) -> Row:
    return ("1",) * len(part.rosters)


def skips_of(release: Release, part: PartSpec, answers: dict[str, Any]) -> dict[str, int]:
    """Where each of `answers`, by name, leads: the index of the next part that it does not rule out, END for none.

    Only those that lead past something are told. A part is ruled out where its asked when, or that of what holds it,
    comes out no whatever else is answered. In a roster nothing leads out of the line.
    """
    found = {}
    end = release.parts[part.rosters[-1]].end if part.rosters else len(release.parts)
    following = next((p.index for p in release.parts[part.end : end] if is_met(p)), END)
    for name, value in answers.items():
        target = _first_possible(release, part, end, _Answered(release, part.index, value))
        if target != following:
            found[name] = target
    return found


def _first_possible(release: Release, part: PartSpec, end: int, state: _Answered) -> int:
    """What is ruled out is not answered either: what rests on it alone is known as well."""
    index, known = part.end, {part.index}
    while index < end:
        candidate = release.parts[index]
        if _is_ruled_out(candidate, known, state) or _has_no_rows(release, candidate, known, state):
            known.update(range(index, candidate.end))
            index = candidate.end
        elif candidate.kind.holds_parts and candidate.end > index + 1:
            index += 1
        elif is_met(candidate):
            return index
        else:
            index = candidate.end
    return END


def is_met(part: PartSpec) -> bool:
    """Whether somebody who fills in the paper comes to a part."""
    # What "other" is stands on the line of its code, and what is worked out is nobody's question.
    return part.raw["specifies"] is None and (part.kind.takes_answer or part.kind.name == "statement")


def _is_ruled_out(candidate: PartSpec, known: set[int], state: _Answered) -> bool:
    """A part is asked only where its condition comes out yes: unknown rules it out as no does."""
    tree = candidate.raw["asked_when"]
    return tree is not None and _outcome(tree, known, state, _row_of(candidate)) in ("no", "unknown")


def _has_no_rows(release: Release, candidate: PartSpec, known: set[int], state: _Answered) -> bool:
    """A roster over an answer that is ruled out, or that says none of them."""
    if candidate.repeat is None:
        return False
    form, tree, *code_list = candidate.raw["repeat"]
    reads = set(reads_of(tree))
    if form == "while" or not reads or not reads <= known:
        return False
    found = bind(tree)(state, _row_of(candidate))
    if form == "codes" and found is not None:
        return set(found) <= release.exclusive.get(code_list[0], set())
    return found is None or found == 0


_Outcome = Literal["yes", "no", "unknown", "open"]
_OPPOSITE: dict[_Outcome, _Outcome] = {"yes": "no", "no": "yes"}
# The first of these that one of the pieces comes to is what the whole comes to.
_DECIDES: dict[str, tuple[_Outcome, ...]] = {
    "and": ("no", "unknown", "open", "yes"),
    "or": ("yes", "open", "unknown", "no"),
}


def _outcome(tree: Tree, known: set[int], state: _Answered, row: Row, denied: bool = False) -> _Outcome:
    """What a condition comes to with the answers that are known; open where others decide.

    Kleene's logic; "not" is carried to the leaves (De Morgan), so that unknown and open together are never yes.
    """
    op = tree[0]
    if op == "not":
        return _outcome(tree[1], known, state, row, not denied)
    if op in _DECIDES:
        outcomes = {_outcome(piece, known, state, row, denied) for piece in tree[1:]}
        connective = {"and": "or", "or": "and"}[op] if denied else op
        return next(outcome for outcome in _DECIDES[connective] if outcome in outcomes)
    reads = set(reads_of(tree))
    if not reads or not reads <= known:
        return "open"
    found: _Outcome = {True: "yes", False: "no"}.get(bind(tree)(state, row), "unknown")  # type: ignore[assignment]
    return _OPPOSITE.get(found, found) if denied else found
