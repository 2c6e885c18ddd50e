"""Which way a rule has changed: wider, narrower, the same in other words, or different."""

from __future__ import annotations

from datetime import UTC, datetime
from functools import lru_cache
from typing import Any

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
    worlds = _worlds(script.model_dump_json())
    if worlds is None:
        return "undecided"
    entries = build_outline(script)
    scope = base_scope(script, entries, symbols_of(script, entries)).inside(entries[index].rosters)
    trees = [check_rule(text, scope, YES_NO)[0] for text in (before, after)]
    if None in trees:
        return "undecided"
    loses = _can(worlds, index, trees[0], trees[1])
    gains = _can(worlds, index, trees[1], trees[0])
    if loses is None or gains is None:
        return "undecided"
    return {(False, False): "same", (False, True): "wider", (True, False): "narrower"}.get((loses, gains), "different")


def _can(worlds: tuple[World, World], index: int, one: Any, other: Any) -> bool | None:
    """Whether the first rule can be yes where the other is not; None where that cannot be said.

    That it can is plainer to see on one day, that it cannot has to be so on all.
    """
    for world in worlds:
        part = world.release.parts[index]
        world.doubts.pop(index, None)
        ways = []
        for row in world.instances(part.rosters):
            first, second = (world.translator.truth(tree, part, row) for tree in (one, other))
            ways.append(both(first.yes, opposite(second.yes)))
        solver = z3.Solver()
        solver.set("timeout", TIMEOUT_MS)
        solver.add(*world.base, *world.translator.facts)
        outcome = solver.check(either(*ways))
        if outcome == z3.sat and not world.doubts.get(index):
            return True
    return False if outcome == z3.unsat else None


@lru_cache(maxsize=4)
def _worlds(script_json: str) -> tuple[World, World] | None:
    """The script as it is today, and on any day of this century."""
    compiled = compile_script(Script.model_validate_json(script_json)).release
    if compiled is None:
        return None
    release = Release(compiled)
    return World(release, datetime.now(UTC), 2), World(release, datetime(2000, 1, 1, tzinfo=UTC), 2, 36_525)
