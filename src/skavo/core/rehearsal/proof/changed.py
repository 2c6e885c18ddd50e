"""Which way a rule has changed: wider, narrower, the same in other words, or different."""

from __future__ import annotations

from datetime import UTC, datetime
from functools import lru_cache

import z3

from skavo.core.interview.release import Release
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.outline import base_scope, build_outline, symbols_of
from skavo.core.questionnaire.script import Script
from skavo.core.rehearsal.proof.symbols import both, either, opposite
from skavo.core.rehearsal.proof.world import World
from skavo.core.rules.check import check_rule
from skavo.core.rules.types import YES_NO

TIMEOUT_MS = 2_000


def judge_change(script: Script, index: int, before: str, after: str) -> str:
    """How the yes of a rule at part `index` has changed from `before` to `after`, both read in `script`.

    Answers same, wider, narrower, different or undecided: that it cannot be said, as with patterns or when one of the
    rules no longer fits the script.
    """
    world = _world(script.model_dump_json())
    if world is None:
        return "undecided"
    entries = build_outline(script)
    scope = base_scope(script, entries, symbols_of(script, entries)).inside(entries[index].rosters)
    trees = [check_rule(text, scope, YES_NO)[0] for text in (before, after)]
    if None in trees:
        return "undecided"
    part = world.release.parts[index]
    world.doubts.pop(index, None)
    lost, gained = [], []
    for row in world.instances(part.rosters):
        old, new = (world.translator.truth(tree, part, row) for tree in trees)
        lost.append(both(old.yes, opposite(new.yes)))
        gained.append(both(new.yes, opposite(old.yes)))
    solver = z3.Solver()
    solver.set("timeout", TIMEOUT_MS)
    solver.add(*world.base, *world.translator.facts)
    outcomes = [solver.check(either(*ways)) for ways in (lost, gained)]
    if z3.unknown in outcomes:
        return "undecided"
    loses, gains = (outcome == z3.sat for outcome in outcomes)
    if (loses or gains) and world.doubts.get(index):
        return "undecided"
    return {(False, False): "same", (False, True): "wider", (True, False): "narrower"}.get((loses, gains), "different")


@lru_cache(maxsize=4)
def _world(script_json: str) -> World | None:
    release = compile_script(Script.model_validate_json(script_json)).release
    return World(Release(release), datetime.now(UTC), 2) if release is not None else None
