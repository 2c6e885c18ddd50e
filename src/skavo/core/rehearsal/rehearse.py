"""Hundreds of made-up interviews: what each question, rule and check came to, how long it takes, the data it gives."""

from __future__ import annotations

import random
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from statistics import median, quantiles
from typing import Any

from skavo.core.dataset.flatten import DataSet, build_data_set, lay_out
from skavo.core.dataset.layout import KEY, layout_of
from skavo.core.dataset.ways import Went, went
from skavo.core.interview.engine import Engine
from skavo.core.interview.release import PartSpec, Release
from skavo.core.questionnaire.flow import Block, blocks_of
from skavo.core.rehearsal.duration import ASSUMPTION, expected_seconds
from skavo.core.rehearsal.make_up import MadeUp, Rule, make_up, make_up_earlier
from skavo.core.rehearsal.reading import ReleaseReading

STATE = "made up"
BEGUN_BEFORE = timedelta(minutes=40)
Progress = Callable[[float, str], None]


@dataclass(frozen=True)
class Reach:
    """In how many interviews a question was asked and answered; in a roster, in at least one row.

    `seconds` are the median of those that it takes where it is asked, all rows together; None where it never is.
    """

    variable: str
    kind: str
    asked: int
    answered: int
    seconds: float | None


@dataclass(frozen=True)
class BlockTime:
    """The minutes that a block of the questionnaire takes where it is met: median, and its share of all time.

    `head` is the part that it begins with, `interviews` are those that met it.
    """

    head: str
    interviews: int
    minutes: float | None
    share: float


@dataclass(frozen=True)
class MadeUpInterview:
    """Answers in JSON form, and what the engine has to know besides to come to the same: its moments, seed, earlier
    round."""

    answers: dict[str, Any]
    language: str
    outside: dict[str, Any]


@dataclass(frozen=True)
class Firing:
    """How often a rule came out yes, no and unknown at the end of the interviews, in all rows.

    `field` is asked when, must hold or should hold; `tried` counts the answers drawn on the way that broke it.
    """

    variable: str
    field: str
    rule: str
    yes: int
    no: int
    unknown: int
    tried: int


@dataclass(frozen=True)
class Unmet:
    """What could not be met: in how many interviews, and how many answers were tried there.

    An interview goes on without the answer where none is needed; otherwise it is not finished and not counted.
    """

    variable: str
    rule: str
    interviews: int
    tries: int


@dataclass
class Rehearsal:
    """`made` counts the valid interviews, out of `wanted`; `day` is the day they are made on.

    Minutes are those of duration.py: median, lower and upper decile; `blocks` the same by block. `documents` are what
    the interviews lay out, every one flagged as made up, and `data` the data set that they give; `went` the ways they
    took.
    """

    wanted: int
    made: int
    seed: int
    day: str
    reach: list[Reach]
    firing: list[Firing]
    unmet: list[Unmet]
    minutes: tuple[float, float, float] | None
    blocks: list[BlockTime]
    data: DataSet
    went: Went
    documents: list[dict[str, Any]]
    interviews: list[MadeUpInterview]
    assumption: str = ASSUMPTION

    @property
    def answers(self) -> list[dict[str, Any]]:
        return [interview.answers for interview in self.interviews]

    @property
    def never_asked(self) -> list[str]:
        """What no interview asked; nothing is known where there is no interview."""
        return [r.variable for r in self.reach if r.asked == 0] if self.made else []


def rehearse(
    release: Release,
    wanted: int,
    seed: int,
    *,
    now: datetime | None = None,
    outside: dict[str, Any] | None = None,
    progress: Progress = lambda fraction, words: None,
) -> Rehearsal:
    """Make up `wanted` interviews; the same seed, release and `now` give the same ones."""
    moment = now or datetime.now(UTC)
    reading, count = ReleaseReading(release), _Counting(release)
    documents: list[dict[str, Any]] = []
    interviews: list[MadeUpInterview] = []
    seconds: list[dict[int, float]] = []
    for number in range(wanted):
        if number % 20 == 0:
            progress(number / max(1, wanted), f"{number} of {wanted} interviews")
        rng = random.Random(f"{seed}/{number}")
        language = rng.choice(release.languages)
        known = {
            "now": moment, "interview.started": moment - BEGUN_BEFORE, "interview.seed": f"{seed}/{number}",
            "enumerator.name": STATE, **(outside or {}),
        }  # fmt: skip
        known.setdefault("earlier", make_up_earlier(reading, rng, known))
        made = make_up(reading, rng, known)
        made.engine.set_language(language)
        count.add(made)
        if made.is_valid:
            taken = expected_seconds(made.engine)
            seconds.append(taken)
            interviews.append(MadeUpInterview(made.engine.packed_answers(), language, known))
            documents.append(_document(made.engine, len(documents) + 1, moment, sum(taken.values())))
    data, blocks = build_data_set(layout_of([release]), documents), blocks_of(release)
    return Rehearsal(
        wanted, len(documents), seed, moment.date().isoformat(), count.reach(seconds), count.firing(), count.unmet(),
        _spread([sum(taken.values()) for taken in seconds]), _block_times(release, blocks, seconds), data,
        went(data, [block.parts for block in blocks]), documents, interviews,
    )  # fmt: skip


def _document(engine: Engine, number: int, moment: datetime, seconds: float) -> dict[str, Any]:
    started = moment.astimezone(UTC).replace(tzinfo=None) - timedelta(seconds=round(seconds))
    facts = {
        KEY: f"{number:04d}",
        "interview.state": STATE,
        "interview.release": None,
        "interview.enumerator": STATE,
        "interview.started": started,
        "interview.minutes": round(seconds / 60, 1),
        "interview.language": engine.language,
    }
    return {"facts": facts, "tables": lay_out(engine)}


def _spread(seconds: list[float]) -> tuple[float, float, float] | None:
    """Median, lower and upper decile in minutes; None without interviews."""
    if not seconds:
        return None
    deciles = quantiles(seconds, n=10) if len(seconds) > 1 else [seconds[0]] * 9
    return tuple(round(s / 60, 1) for s in (median(seconds), deciles[0], deciles[-1]))  # type: ignore[return-value]


def _block_times(release: Release, blocks: list[Block], seconds: list[dict[int, float]]) -> list[BlockTime]:
    everything = sum(sum(taken.values()) for taken in seconds)
    index_of = {part.raw["id"]: part.index for part in release.parts}
    found = []
    for block in blocks:
        inside = {index_of[part] for part in block.parts}
        met = [sum(taken.get(index, 0.0) for index in inside) for taken in seconds if inside & taken.keys()]
        minutes = round(median(met) / 60, 1) if met else None
        share = sum(met) / everything if everything else 0.0
        found.append(BlockTime(block.head or block.parts[0], len(met), minutes, round(share, 4)))
    return found


class _Counting:
    def __init__(self, release: Release) -> None:
        self.release = release
        self.asked: Counter[int] = Counter()
        self.answered: Counter[int] = Counter()
        self.outcomes: Counter[tuple[int, int, bool | None]] = Counter()
        self.tried: Counter[Rule] = Counter()
        self.unmet_in: Counter[Rule] = Counter()
        self.unmet_tries: Counter[Rule] = Counter()

    def add(self, made: MadeUp) -> None:
        self.tried.update(made.fired)
        for rule, tries in (*made.unmet.items(), *made.avoided.items()):
            self.unmet_in[rule] += 1
            self.unmet_tries[rule] += tries
        if not made.is_valid:
            return
        engine = made.engine
        for part in self.release.parts:
            index = part.index
            self.asked[index] += any(engine.asked[index].values())
            self.answered[index] += any(engine.asked[index].get(row) for row in engine.values[index])
            if part.asked_when is not None:
                self._count_outcomes(engine, part)
            for row, asked in engine.asked[index].items():
                for check in part.checks if asked else ():
                    self.outcomes[index, check.number, check.rule(engine, row)] += 1

    def _count_outcomes(self, engine: Engine, part: PartSpec) -> None:
        assert part.asked_when is not None
        parent = part.parent
        for row in engine.asked[part.index]:
            outer = row[:-1] if part.in_roster else row
            if parent is None or engine.asked[parent].get(outer):
                self.outcomes[part.index, -1, part.asked_when(engine, row)] += 1

    def reach(self, seconds: list[dict[int, float]]) -> list[Reach]:
        found = []
        for part in self.release.parts:
            if part.kind.takes_answer or part.kind.name == "statement":
                taken = [each[part.index] for each in seconds if part.index in each]
                middle = round(median(taken), 1) if taken else None
                asked, answered = self.asked[part.index], self.answered[part.index]
                found.append(Reach(part.variable, part.kind.name, asked, answered, middle))
        return found

    def firing(self) -> list[Firing]:
        found = []
        for part in self.release.parts:
            if part.asked_when is not None:
                found.append(self._firing(part, -1, "asked when", part.raw["asked_when_text"]))
            for check in part.checks:
                found.append(self._firing(part, check.number, f"{check.strength} hold", check.text))
        return found

    def _firing(self, part: PartSpec, number: int, field: str, text: str) -> Firing:
        yes, no, unknown = (self.outcomes[part.index, number, outcome] for outcome in (True, False, None))
        tried = self.tried[part.index, number] if number >= 0 else 0
        return Firing(part.variable or part.raw["id"], field, text, yes, no, unknown, tried)

    def unmet(self) -> list[Unmet]:
        return [
            Unmet(self.release.parts[index].variable, self._rule(index, check), count, self.unmet_tries[index, check])
            for (index, check), count in self.unmet_in.most_common()
        ]

    def _rule(self, index: int, check: int) -> str:
        part = self.release.parts[index]
        return part.checks[check].text if check >= 0 else "an answer that its kind, list or limits allow"
