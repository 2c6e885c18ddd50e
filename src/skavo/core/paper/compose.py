"""From a release to what is printed, in one of its languages."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from skavo.core.dataset.layout import label_in
from skavo.core.interview.kinds import UNNUMBERED
from skavo.core.interview.release import PartSpec, Release
from skavo.core.paper.forms import Forms
from skavo.core.paper.rule_words import RuleWords
from skavo.core.paper.sheet import Block, Choice, Grid, Heading, Line, Paper, Table
from skavo.core.paper.skips import is_met
from skavo.core.paper.words import say, words_in

BLANK_ROWS, MOST_BLANK_ROWS = 8, 40
_RIGHT_TO_LEFT = {"ar", "fa", "he", "ur", "ps", "sd", "ug", "dv", "yi", "ckb"}
_GAP = "…"


def numbers_of(release: Release) -> dict[int, int]:
    """The number of each question by its index, as the sheet and the phone count them."""
    asked = [p for p in release.parts if p.kind.name not in UNNUMBERED and p.raw["specifies"] is None]
    return {part.index: number for number, part in enumerate(asked, start=1)}


def compose(
    release: Release, language: str, *, study: str = "", number: int | None = None, rows: int = BLANK_ROWS
) -> Paper:
    """The paper of a release; `number` is its own, None for a draft, `rows` are left empty in tables of unknown length.

    Texts that a language lacks stand in another that the questionnaire has.
    """
    words = words_in(language)
    paper = Paper(
        title=label_in(release.raw["title"], language, release.raw["name"]), study=study, language=language,
        rtl=language.split("-")[0] in _RIGHT_TO_LEFT, words=words,
        release=words["draft"] if number is None else say(words, "release", number=number),
    )  # fmt: skip
    composer = _Composer(release, language, words, min(max(rows, 1), MOST_BLANK_ROWS))
    for index in release.roots:
        paper.blocks += composer.blocks(release.parts[index], 1)
    paper.lists = list(composer.forms.lists.values())
    return paper


class _Composer:
    def __init__(self, release: Release, language: str, words: dict[str, str], rows: int) -> None:
        self.release, self.language, self.words, self.rows = release, language, words, rows
        self.numbers = numbers_of(release)
        self.rules = RuleWords(release, self.numbers, words, language)
        self.forms = Forms(release, self.rules, words, language)

    def blocks(self, part: PartSpec, depth: int) -> Iterator[Block]:
        kind = part.kind.name
        if kind == "section":
            yield Heading(depth, *self._titles(part), self._condition(part, "section_if"))
            for child in part.children:
                yield from self.blocks(self.release.parts[child], depth + 1)
        elif kind == "roster":
            yield from self._tables(part)
        elif kind == "grid":
            yield self._grid(part)
        elif is_met(part):
            yield self._line(part)

    def _titles(self, part: PartSpec) -> tuple[str, str]:
        return self._text(part.raw["wording"]), self._text(part.raw["instruction"])

    def _condition(self, part: PartSpec, key: str = "ask_if") -> str:
        tree = part.raw["asked_when"]
        if tree is None:
            return ""
        return say(self.words, key, condition=self.rules.say(tree, part.raw["asked_when_text"]))

    def _line(self, part: PartSpec) -> Line:
        number = str(self.numbers.get(part.index, ""))
        # A mask is seen by its boxes.
        checks = [
            say(self.words, "check", what=self.rules.say(c["rule"], self._text(c["message"]), c["text"]))
            for c in part.raw["checks"]
            if c["rule"][0] != "matches"
        ]
        specials = tuple(Choice("", self.words[name]) for name in part.raw["special"])
        return Line(
            part.raw["id"], number, *self._titles(part), self._condition(part), tuple(checks), self.forms.of(part), specials,
            bool(part.raw["read_aloud"]), tuple(part.raw["media"]),
        )  # fmt: skip

    def _tables(self, roster: PartSpec) -> Iterator[Table]:
        """A roster's own lines, then the rosters inside it, each with the number of the line it belongs to."""
        title, instruction = self._titles(roster)
        columns, inner = [], []
        for part in self._inside(roster):
            if part.kind.name == "roster":
                inner.append(part)
            elif is_met(part) or part.kind.derives:
                columns.append(self._line(part))
        outer = tuple(self._text(self.release.parts[index].raw["wording"]) for index in roster.rosters)
        names, note = self._repeats(roster)
        yield Table(
            title, instruction, self._condition(roster), note, outer, tuple(columns), names, self.rows if not names else 0
        )  # fmt: skip
        for part in inner:
            yield from self._tables(part)

    def _inside(self, part: PartSpec) -> Iterator[PartSpec]:
        """What stands in a roster, sections and grids opened; rosters inside it stay whole."""
        for index in part.children:
            child = self.release.parts[index]
            if child.kind.name in ("section", "grid"):
                yield from self._inside(child)
            else:
                yield child

    def _repeats(self, roster: PartSpec) -> tuple[tuple[str, ...], str]:
        """The rows that are known beforehand, and how it is said for what a line is filled in."""
        form, tree, *more = roster.raw["repeat"]
        if form == "codes":
            labels = self.release.labels.get(more[0], {}).items()
            hidden = self.release.exclusive.get(more[0], set())
            names = tuple(label_in(texts, self.language, code) for code, texts in labels if code not in hidden)
            of = self.rules.name_of(tree[1]) if tree[0] == "variable" else _GAP
            return names, say(self.words, "only_these", of=of)
        if form == "times" and tree[0] == "literal":
            return tuple(str(n + 1) for n in range(min(int(float(tree[2])), MOST_BLANK_ROWS))), ""
        return (), self.words["more_rows"]

    def _grid(self, grid: PartSpec) -> Block:
        lines = [self._line(self.release.parts[index]) for index in grid.children if is_met(self.release.parts[index])]
        choices = lines[0].form.choices if lines else ()
        return Grid(*self._titles(grid), self._condition(grid), tuple(lines), choices)

    def _text(self, texts: dict[str, list[Any]]) -> str:
        """A text with a gap, and the number of the answer that belongs there, where it reads one out."""
        pieces = texts.get(self.language) or next((p for p in texts.values() if p), [])
        return "".join(piece if isinstance(piece, str) else self._gap(piece["rule"]) for piece in pieces)

    def _gap(self, tree: Any) -> str:
        if tree[0] in ("variable", "label") and (found := _read_by(tree)) in self.numbers:
            return f"{_GAP} ({self.numbers[found]})"
        return _GAP


def _read_by(tree: Any) -> int:
    return int(tree[1]) if tree[0] == "variable" else _read_by(tree[1])
