"""Rules that need each other in a ring."""

from __future__ import annotations

import re
from collections import deque
from collections.abc import Mapping
from dataclasses import replace
from itertools import pairwise

from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.outline import Entry
from skavo.core.rules.types import Symbol

_NAME = re.compile(r'"[^"]*"|#[^\n]*|([A-Za-z_]\w*)')

# Rules that decide whether there is an answer, or which.
_FLOW = ("asked_when", "derived", "default", "repeated", "code_filter")


def names_in(text: str) -> set[str]:
    """The words of a rule that may be names, texts and comments left out."""
    return {match[1] for match in _NAME.finditer(text) if match[1]}


def name_cycles(findings: list[Finding], entries: list[Entry], symbols: Mapping[str, Symbol]) -> list[Finding]:
    """`findings`, where a reference to something asked later that needs the rule's own part names the whole ring."""
    if not any(f.code == "asked_later" for f in findings):
        return findings
    needs = {e.index: _needs(e, symbols) for e in entries}
    own = {e.part.id: e.index for e in entries}
    return [_as_cycle(f, entries, needs, own) if f.code == "asked_later" and f.field in _FLOW else f for f in findings]


def _needs(entry: Entry, symbols: Mapping[str, Symbol]) -> set[int]:
    texts = [getattr(entry.part, field) for field in _FLOW]
    found = {symbols[name].index for text in texts for name in names_in(text) if name in symbols}
    return found | ({entry.parent} if entry.parent is not None else set())


def _as_cycle(finding: Finding, entries: list[Entry], needs: dict[int, set[int]], own: dict[str, int]) -> Finding:
    text = getattr(entries[own[finding.part_id]].part, finding.field)
    name = text[finding.start : finding.start + finding.length].rsplit(".", 1)[-1]
    later = next((e.index for e in entries if e.part.variable == name), None)
    ring = _way(later, own[finding.part_id], needs) if later is not None else None
    if ring is None:
        return finding
    ring = [ring[-1], *ring]
    steps = [
        f"{_called(entries[a])} {'stands in' if entries[a].parent == b else 'needs'} {_called(entries[b])}"
        for a, b in pairwise(ring)
    ]
    message = "This goes round in a circle: " + ", ".join(steps) + "."
    return replace(finding, code="cycle", message=message, mend="Let one of them go without the next.")


def _called(entry: Entry) -> str:
    return entry.part.variable or next(iter(entry.part.wording.values()), "") or f"line {entry.source + 1}"


def _way(start: int, goal: int, needs: dict[int, set[int]]) -> list[int] | None:
    """The shortest way from `start` to `goal` along what each needs."""
    came: dict[int, int | None] = {start: None}
    queue = deque([start])
    while queue:
        here = queue.popleft()
        if here == goal:
            way: list[int] = []
            step: int | None = here
            while step is not None:
                way.append(step)
                step = came[step]
            return way[::-1]
        for following in sorted(needs.get(here, ())):
            if following not in came:
                came[following] = here
                queue.append(following)
    return None
