"""Copies of copies. Standard library only: a plan that runs without Skavo takes this module along."""

from __future__ import annotations


def end_of_chain(kept_by: dict[str, str], kept: str) -> str:
    """The interview that is kept at the end of a chain of copies; where they go round, the last one before the ring closes."""
    seen = {kept}
    while kept in kept_by and kept_by[kept] not in seen:
        kept = kept_by[kept]
        seen.add(kept)
    return kept
