"""Which answers are sensitive: those that are marked, and whatever follows from them.

Marking is for the lasting identity of a part, so that it counts for every release that has the part. Standard library
only, like the engine.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

from skavo.core.interview.release import PartSpec, Release
from skavo.core.rules.state import reads_of


def marked_in(releases: Iterable[Release], draft: Iterable[dict[str, Any]] = ()) -> frozenset[str]:
    """The identities of all parts that some release, or the draft (its parts as they are kept), marks."""
    marks = {part.raw["id"] for release in releases for part in release.parts if part.raw["sensitive"]}
    return frozenset(marks | {part["id"] for part in draft if part.get("sensitive")})


def sensitive_parts(release: Release, marked: frozenset[str]) -> frozenset[int]:
    """The parts of a release that are `marked` or tell something of a marked one.

    A value that is derived from a sensitive one, a default or a read-back of it, what is specified for one of its codes,
    and everything in a roster whose rows follow from it.
    """
    found = {part.index for part in release.parts if part.raw["id"] in marked}
    while True:
        more = {p.index for p in release.parts if p.index not in found and not found.isdisjoint(_sources(release, p))}
        if not more:
            return frozenset(found)
        found |= more


def _sources(release: Release, part: PartSpec) -> set[int]:
    """The parts that a value of `part` tells something of."""
    raw = part.raw
    sources = {*reads_of([raw["derived"], raw["default"], raw["repeat"]]), *_earlier([raw["derived"], raw["default"]])}
    if part.reads_back is not None:
        sources.add(part.reads_back)
    if raw["specifies"] is not None:
        sources.add(raw["specifies"])
    if part.rosters:
        sources.add(part.rosters[-1])
    return sources - {part.index}


def _earlier(tree: Any) -> Iterator[int]:
    """The parts whose answers of an earlier round a rule reads."""
    if not isinstance(tree, list) or not tree:
        return
    if tree[0] == "earlier":
        yield tree[1]
    for piece in tree:
        yield from _earlier(piece)
