"""Paper questionnaires keyed twice: where two keyers differ, what is settled, and how often each was wrong.

Answers are {path: JSON value} (core/interview/answers.py); a path that is missing was left empty.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from skavo.core.errors import InterviewError
from skavo.core.interview.engine import Engine
from skavo.core.interview.paths import find_part, path_of
from skavo.core.interview.release import Release
from skavo.core.interview.view import overview_line, steps
from skavo.core.rules.state import Row

Answers = dict[str, Any]
Place = tuple[int, Row]
# Why a soft check that is broken on the paper is kept.
STANDS_SO = "Stands so on the paper"


@dataclass(frozen=True)
class Difference:
    """A question that two keyers answered differently: the answers in JSON form, None for none, and in words."""

    path: str
    around: str
    wording: str
    first: Any
    second: Any
    first_shown: str
    second_shown: str


@dataclass(frozen=True)
class Compared:
    """`open` differ and are not settled, in the order of asking; `asked` counts the questions looked at.

    What hangs on an open one is not looked at before that is settled.
    """

    open: list[Difference]
    asked: int


def compare_keyings(release: Release, first: Answers, second: Answers, settled: Answers, at: datetime) -> Compared:
    """Hold two keyings of one paper against each other; `settled` are decided paths with the value that counts."""
    differ = {path for path in {*first, *second} if first.get(path) != second.get(path)} - set(settled)
    agreed = engine_over(release, agreed_answers(release, first, second, settled), at)
    one, other = engine_over(release, first, at), engine_over(release, second, at)
    found, asked = [], 0
    for place in steps(agreed):
        path = path_of(release, *place)
        asked += release.parts[place[0]].kind.takes_answer
        if path in differ:
            line = overview_line(agreed, place)
            around = " · ".join(a["title"] if a["row"] is None else f"{a['title']} {a['row']}" for a in line["around"])
            found.append(
                Difference(
                    path, around, line["wording"], first.get(path), second.get(path), _shown(one, place),
                    _shown(other, place),
                )
            )  # fmt: skip
    return Compared(found, asked)


def _shown(engine: Engine, place: Place) -> str:
    index, row = place
    return overview_line(engine, place)["answer"] if engine.asked[index].get(row) else ""


def agreed_answers(release: Release, first: Answers, second: Answers, settled: Answers) -> Answers:
    """What both keyed alike, and what was settled. Which rows a keyer removed is nobody's answer: the first one's stand."""
    alike = {path: value for path, value in first.items() if second.get(path) == value or _is_roster(release, path)}
    return {path: value for path, value in {**alike, **settled}.items() if value is not None}


def _is_roster(release: Release, path: str) -> bool:
    try:
        return find_part(release, path)[0].repeat is not None
    except InterviewError:
        return False


def engine_over(release: Release, answers: Answers, at: datetime) -> Engine:
    """The engine over what was keyed, as if asked at `at`, in the order of the paper."""
    return Engine(release, {"now": at, "interview.started": at}, answers, {}, None)


@dataclass(frozen=True)
class Keyed:
    """What one keyer typed of a paper that was keyed twice, and what counts in the end where the two differed."""

    by: str
    answers: Answers
    settled: Answers


@dataclass(frozen=True)
class ErrorRate:
    """`errors` of `keyed` answers were not what counts in the end; `name` is a keyer or a variable."""

    name: str
    keyed: int
    errors: int

    @property
    def rate(self) -> float | None:
        """Errors by answers keyed; None where nothing was keyed."""
        return self.errors / self.keyed if self.keyed else None


def error_rates(keyed: Iterable[Keyed]) -> tuple[list[ErrorRate], list[ErrorRate]]:
    """By keyer and by question, those with the most errors first; an answer left out where one counts is an error too."""
    by_keyer: dict[str, Counter[str]] = {"keyed": Counter(), "errors": Counter()}
    by_question: dict[str, Counter[str]] = {"keyed": Counter(), "errors": Counter()}
    for one in keyed:
        wrong = {path for path, value in one.settled.items() if one.answers.get(path) != value}
        for path in {*one.answers, *wrong}:
            for counts, name in ((by_keyer, one.by), (by_question, path.rsplit("/", 1)[-1])):
                counts["keyed"][name] += 1
                counts["errors"][name] += path in wrong
    return _rates(by_keyer), _rates(by_question)


def _rates(counts: dict[str, Counter[str]]) -> list[ErrorRate]:
    found = [ErrorRate(name, number, counts["errors"][name]) for name, number in counts["keyed"].items()]
    return sorted(found, key=lambda rate: (-rate.errors, rate.name))
