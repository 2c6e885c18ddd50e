"""What lines and codes show: files by name, one for every language where there are such.

A line that names `consent.opus` shows `consent.fr.opus` in French where the shelf has it, else `consent.opus`, else the
one in the first language.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import asdict, dataclass, field
from statistics import median
from typing import Any

from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.script import Script

_FEWEST_TO_COMPARE = 4
_ODD_SIZE, _ODD_SHAPE = 2.0, 1.35


@dataclass(frozen=True)
class MediaFile:
    """A file as phones get it: `said` is what it shows in words, by language, for those who cannot see or hear it."""

    hash: str
    type: str
    bytes: int
    said: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Use:
    """A line, or a code of a list, that shows a file."""

    name: str
    part_id: str
    place: str


def uses_of(script: Script) -> Iterator[Use]:
    """Every place of a script that names a file, in its order."""
    for part in script.parts:
        for name in part.media:
            yield Use(name, part.id, part.variable or part.kind)
    for entry in script.code_lists:
        for code in entry.codes:
            for name in code.media:
                yield Use(name, "", f"{entry.name}: {code.code}")


def in_language(name: str, tag: str) -> str:
    """The name of the file in one language.

    >>> in_language("consent.opus", "fr")
    'consent.fr.opus'
    """
    stem, dot, ending = name.rpartition(".")
    return f"{stem}.{tag}.{ending}" if dot else f"{name}.{tag}"


def resolve(name: str, tag: str, first: str, names: Iterable[str]) -> str | None:
    """Which file a place that names `name` shows in a language; None where the shelf has none."""
    known = names if isinstance(names, set | frozenset | dict) else set(names)
    ways = (in_language(name, tag), in_language(name, tag.split("-")[0]), name, in_language(name, first))
    return next((way for way in ways if way in known), None)


def answering(name: str, names: Iterable[str], languages: list[str]) -> set[str]:
    """The files of the shelf that a place naming `name` may show, in any of these languages."""
    found = (resolve(name, tag, languages[0], names) for tag in languages)
    return {way for way in found if way is not None}


def media_of_release(script: Script, shelf: Mapping[str, MediaFile]) -> dict[str, dict[str, Any]]:
    """For every name that the script mentions: the file in each of its languages, as a phone looks it up."""
    found: dict[str, dict[str, Any]] = {}
    for name in dict.fromkeys(use.name for use in uses_of(script)):
        shown = {tag: resolve(name, tag, script.languages[0], shelf.keys()) for tag in script.languages}
        files = {tag: asdict(shelf[way]) for tag, way in shown.items() if way is not None}
        if files:
            found[name] = files
    return found


def check_media(script: Script, names: frozenset[str]) -> Iterator[Finding]:
    """Doubts about files that the shelf does not have: in no language, or not in this one."""
    lines = {part.id: line for line, part in enumerate(script.parts)}
    for use in uses_of(script):
        lacking = [tag for tag in script.languages if resolve(use.name, tag, script.languages[0], names) is None]
        if not lacking:
            continue
        where = "" if len(lacking) == len(script.languages) else f" in {', '.join(lacking)}"
        code_list, _, code = use.place.partition(": ") if not use.part_id else ("", "", "")
        yield Finding(
            "doubt", "no_such_file", f"The media shelf has no file “{use.name}”{where}.",
            "Bring it in, or take its name out here.", lines.get(use.part_id), use.part_id,
            "media" if use.part_id else "", code_list=code_list, item=code,
        )  # fmt: skip


def odd_ones(sizes: Mapping[str, tuple[int, int]]) -> dict[str, str]:
    """The pictures whose size or shape is unlike that of the others, with what the others are, in words.

    Common practice, not a standard: a longest side more than twice or less than half the usual one, or a shape that
    is a third off; the usual is the median, from four pictures on.
    """
    if len(sizes) < _FEWEST_TO_COMPARE:
        return {}
    side = median(max(size) for size in sizes.values())
    shape = median(width / height for width, height in sizes.values())
    usual = min(sizes.values(), key=lambda size: (abs(max(size) - side), abs(size[0] / size[1] - shape)))
    odd = {}
    for name, (width, height) in sizes.items():
        larger, wider = max(width, height) / side, (width / height) / shape
        if not 1 / _ODD_SIZE <= larger <= _ODD_SIZE or not 1 / _ODD_SHAPE <= wider <= _ODD_SHAPE:
            odd[name] = f"others are {usual[0]} × {usual[1]}"
    return odd
