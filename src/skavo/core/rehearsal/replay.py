"""Test interviews of an earlier release, answered again in a later one: what has changed for them."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from skavo.core.interview.engine import Engine
from skavo.core.interview.release import Release
from skavo.core.interview.view import all_findings


@dataclass(frozen=True)
class Replayed:
    """A test interview in a later release. Paths are those of answers; `findings` are new ones, in words."""

    name: str
    newly_asked: list[str] = field(default_factory=list)
    no_longer_asked: list[str] = field(default_factory=list)
    lost: list[str] = field(default_factory=list)
    derived: list[str] = field(default_factory=list)
    findings: list[str] = field(default_factory=list)

    @property
    def is_unchanged(self) -> bool:
        return not (self.newly_asked or self.no_longer_asked or self.lost or self.derived or self.findings)


def written_test(
    release: Release,
    name: str,
    answers: dict[str, Any],
    language: str,
    now: datetime,
    started: datetime,
    earlier: dict[str, Any],
) -> dict[str, Any]:
    """An interview written by hand as a test: its answers that are asked, and what comes of them in `release` now.

    `answers` and `earlier` are in JSON form; answers to what the release does not have are left out.
    """
    engine = Engine(release, {"now": now, "interview.started": started, "earlier": earlier}, answers)
    outcome = engine.snapshot()
    return {
        "name": name, "answers": outcome["answers"], "language": language, "earlier": earlier,
        "now": now.isoformat(), "started": started.isoformat(), "visits": [], "outcome": outcome,
    }  # fmt: skip


def replay(release: Release, tests: list[dict[str, Any]]) -> list[Replayed]:
    """What comes of each test in `release`, at the moment it was made for; `lost` are answers to what it no longer has.

    A test is {name, answers, earlier, now, started, outcome}, as proof/results.py has it.
    """
    return [_replay_one(release, test) for test in tests]


def _replay_one(release: Release, test: dict[str, Any]) -> Replayed:
    clock = {"now": datetime.fromisoformat(test["now"]), "interview.started": datetime.fromisoformat(test["started"])}
    engine = Engine(release, {**clock, "earlier": test["earlier"]}, test["answers"])
    before, after = test["outcome"], engine.snapshot()
    known = {path for path in before["asked"] if path not in engine.unknown}
    told_before = {(path, code) for path, code, _ in before["findings"]}
    findings = [
        f"{f['path']}: {f['message']}" for f in all_findings(engine) if (f["path"], f["code"]) not in told_before
    ]
    derived = {**before["derived"], **after["derived"]}
    changed = [path for path in derived if before["derived"].get(path) != after["derived"].get(path)]
    return Replayed(
        test["name"],
        newly_asked=[path for path in after["asked"] if path not in before["asked"]],
        no_longer_asked=sorted(known - set(after["asked"])),
        lost=sorted(engine.unknown),
        derived=changed,
        findings=findings,
    )
