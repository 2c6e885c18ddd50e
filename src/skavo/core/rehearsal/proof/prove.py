"""Questions that can be reached, checks that can fail and be met, what contradicts what, and the test interviews."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

from skavo.core.interview.paths import path_of
from skavo.core.interview.release import PartSpec, Release
from skavo.core.rehearsal.proof.branches import make_tests
from skavo.core.rehearsal.proof.results import Proof, Reached, Told
from skavo.core.rehearsal.proof.search import FEWEST, Found, Prover

Progress = Callable[[float, str], None]


def prove(release: Release, now: datetime, progress: Progress = lambda fraction, words: None) -> Proof:
    """Everything that can be proved of a release, for interviews that are made at `now` or up to two years later."""
    prover = Prover(release, now)
    proof = Proof(prover.now.date().isoformat())
    screens = [p for p in release.parts if p.kind.takes_answer or p.kind.name == "statement"]
    known: dict[int, Found] = {}
    for number, part in enumerate(screens):
        progress(0.4 * number / max(1, len(screens)), f"{number} of {len(screens)} questions")
        _tell_reach(prover, proof, part, known)
    checks = list(prover.few.keeps)
    for number, check in enumerate(checks):
        progress(0.4 + 0.4 * number / max(1, len(checks)), f"{number} of {len(checks)} checks")
        proof.checks.append(prover.judge(check))
    progress(0.8, "checks against each other")
    proof.contradictions = prover.contradictions()
    progress(0.85, "test interviews")
    proof.tests, proof.unvisited = make_tests(prover)
    proof.dead_ends = [Told(release.parts[i].variable, prover.why_dead(i)) for i in sorted(prover.dead_ends)]
    return proof


def _tell_reach(prover: Prover, proof: Proof, part: PartSpec, known: dict[int, Found]) -> None:
    name = part.variable or path_of(prover.release, part.index, ("…",) * part.depth)
    # Questions that are asked with their section share its way.
    decider = part
    while decider.asked_when is None and not decider.in_roster and decider.parent is not None:
        decider = prover.release.parts[decider.parent]
    found = known.get(decider.index)
    if found is None:
        found = prover.reach(part)
        if found.verdict == "yes":
            found = prover.shortest(part, found)
        known[decider.index] = found
    if found.verdict == "yes":
        given = {f"earlier.{path}": value for path, value in found.outside["earlier"].items()}
        day = found.outside["now"].date().isoformat()
        if day != proof.day:
            given = {"today": day, **given}
        proof.reached.append(Reached(name, {**given, **found.answers}, found.why == FEWEST))
    elif found.verdict == "no":
        never = {told.variable for told in proof.unreachable}
        proof.unreachable.append(Told(name, prover.why_unreachable(part, found.core, never)))
    else:
        proof.undecided.append(Told(name, prover.reason(part, found.why)))
