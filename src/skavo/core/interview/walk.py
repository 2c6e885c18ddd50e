"""The order of asking: every place that is asked, one after the other, and the one before and behind any of them.

A step forward or back costs what lies between two screens, not the length of the questionnaire.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator

from skavo.core.interview.order import shuffled
from skavo.core.interview.release import PartSpec
from skavo.core.interview.state import InterviewState, Place
from skavo.core.rules.state import Row


def places(state: InterviewState) -> Iterator[Place]:
    """Every place that is asked, in the order of asking, each roster row by row."""
    return _walk(state, 0, len(state.release.parts), ())


def _walk(state: InterviewState, start: int, end: int, row: Row) -> Iterator[Place]:
    index = start
    while index < end:
        part = state.release.parts[index]
        if not state.asked[index].get(row):
            index = part.end
            continue
        yield index, row
        if part.repeat is not None:
            for name in state.rows[index].get(row, []):
                yield from _inside(state, part, (*row, name))
            index = part.end
        elif part.children and part.shuffles:
            yield from _inside(state, part, row)
            index = part.end
        else:
            index += 1


def _inside(state: InterviewState, part: PartSpec, row: Row) -> Iterator[Place]:
    if not part.shuffles:
        yield from _walk(state, part.index + 1, part.end, row)
        return
    for child in _children(state, part, row):
        yield from _walk(state, child, state.release.parts[child].end, row)


def _children(state: InterviewState, part: PartSpec, row: Row) -> list[int]:
    """The parts directly inside one instance of `part`, in the order of asking."""
    if not part.shuffles:
        return part.children
    parts = state.release.parts
    heads = [p for p in part.children if parts[p].raw["specifies"] is None]
    ordered = []
    for head in shuffled(heads, state.seed, part.raw["id"], row):
        ordered.append(head)
        end = parts[head].end
        # A question that asks which other it is stays behind its question.
        if end < part.end and parts[end].raw["specifies"] == head:
            ordered.append(end)
    return ordered


def next_screen(state: InterviewState, place: Place) -> Place | None:
    """The screen behind `place`; None behind the last one."""
    found = _behind(state, place)
    while found is not None and not _is_screen(state, found):
        found = _behind(state, found)
    return found


def previous_screen(state: InterviewState, place: Place) -> Place | None:
    """The screen before `place`; None before the first one."""
    found = _before(state, place)
    while found is not None and not _is_screen(state, found):
        found = _before(state, found)
    return found


def is_screen(part: PartSpec) -> bool:
    """Whether a part has a screen of its own: questions and statements."""
    return part.kind.takes_answer or part.kind.name == "statement"


def _is_screen(state: InterviewState, place: Place) -> bool:
    return is_screen(state.release.parts[place[0]])


def _behind(state: InterviewState, place: Place) -> Place | None:
    """The next place that is asked: the first inside, else the next beside, else the next beside what is around."""
    index, row = place
    part = state.release.parts[index]
    inside = _first_inside(state, part, row)
    if inside is not None:
        return inside
    while True:
        beside = _beside(state, part, row, 1)
        if beside is not None:
            return beside
        if part.parent is None:
            return None
        parent = state.release.parts[part.parent]
        if part.in_roster:
            names = state.rows[parent.index].get(row[:-1], [])
            later = names[names.index(row[-1]) + 1 :] if row[-1] in names else []
            found = _first_in_rows(state, parent, row[:-1], later)
            if found is not None:
                return found
            row = row[:-1]
        part = parent


def _first_inside(state: InterviewState, part: PartSpec, row: Row) -> Place | None:
    if not part.children:
        return None
    if part.repeat is not None:
        return _first_in_rows(state, part, row, state.rows[part.index].get(row, []))
    return next(((i, row) for i in _children(state, part, row) if state.asked[i].get(row)), None)


def _first_in_rows(state: InterviewState, roster: PartSpec, outer: Row, names: list[object]) -> Place | None:
    for name in names:
        row = (*outer, name)
        for index in _children(state, roster, row):
            if state.asked[index].get(row):
                return index, row
    return None


def _beside(state: InterviewState, part: PartSpec, row: Row, step: int) -> Place | None:
    """The next place asked in the same instance of what is around, forward (1) or back (-1)."""
    if part.parent is None:
        siblings, at = state.release.roots, bisect_left(state.release.roots, part.index)
    else:
        parent = state.release.parts[part.parent]
        siblings = _children(state, parent, row)
        at = siblings.index(part.index) if parent.shuffles else bisect_left(siblings, part.index)
    at += step
    while 0 <= at < len(siblings):
        if state.asked[siblings[at]].get(row):
            return siblings[at], row
        at += step
    return None


def _before(state: InterviewState, place: Place) -> Place | None:
    """The place asked before: the last inside what stands before it, else what is around it."""
    index, row = place
    part = state.release.parts[index]
    beside = _beside(state, part, row, -1)
    if beside is not None:
        return _last_inside(state, beside)
    if part.parent is None:
        return None
    if part.in_roster:
        names = state.rows[part.parent].get(row[:-1], [])
        earlier = names[: names.index(row[-1])] if row[-1] in names else []
        found = _last_in_rows(state, state.release.parts[part.parent], row[:-1], earlier)
        if found is not None:
            return found
        row = row[:-1]
    return part.parent, row


def _last_inside(state: InterviewState, place: Place) -> Place:
    index, row = place
    part = state.release.parts[index]
    if part.repeat is not None:
        return _last_in_rows(state, part, row, state.rows[index].get(row, [])) or place
    last = next((i for i in reversed(_children(state, part, row)) if state.asked[i].get(row)), None)
    return place if last is None else _last_inside(state, (last, row))


def _last_in_rows(state: InterviewState, roster: PartSpec, outer: Row, names: list[object]) -> Place | None:
    for name in reversed(names):
        row = (*outer, name)
        for index in reversed(_children(state, roster, row)):
            if state.asked[index].get(row):
                return _last_inside(state, (index, row))
    return None
