"""How each kind of question is answered with a pen."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from decimal import Decimal
from typing import Any

from skavo.core.dataset.layout import label_in
from skavo.core.interview.release import PartSpec, Release
from skavo.core.paper.rule_words import RuleWords
from skavo.core.paper.sheet import Boxes, Choice, CodeSheet, Form
from skavo.core.paper.skips import END, skips_of
from skavo.core.paper.words import say

MOST_ON_A_LINE, MOST_ON_PAPER = 40, 1_000
_WIDTHS = {"whole number": 6, "decimal": 5, "instrument": 5}
_ELSEWHERE = ("photo", "audio", "video", "file")
_PLACES = ("point", "path", "area")
_MASK_SIGNS = "A9*"
_LIMITING = ("between", "le", "lt", "is")


class Forms:
    """Makes the form of each question of a release; long lists are kept for the end of the paper, in `lists`."""

    def __init__(self, release: Release, rules: RuleWords, words: dict[str, str], language: str) -> None:
        self.release, self.rules, self.words, self.language = release, rules, words, language
        self.lists: dict[str, CodeSheet] = {}

    def of(self, part: PartSpec) -> Form:
        kind = part.kind.name
        if kind == "yes/no":
            leads = self._leads(part, {"yes": True, "no": False})
            both = [Choice(n, self.words[w], leads.get(w, "")) for n, w in (("1", "yes"), ("2", "no"))]
            return Form("choices", tuple(both), note=self.words["choose_one"])
        if part.kind.uses_codes:
            return self._coded(part)
        if kind == "statement":
            return Form("nothing")
        if kind == "derived value" or kind == "carried value":
            return Form("boxes", boxes=(Boxes("", " " * 6),))
        if kind in ("quantity", "instrument"):
            units = tuple(label_in(u["label"], self.language, u["unit"]) for u in part.raw["units"])
            return Form("amount", boxes=(Boxes(self.words["amount"], self._number_boxes(part)),), units=units)
        if kind in ("whole number", "decimal"):
            return Form("boxes", boxes=(Boxes("", self._number_boxes(part)),))
        if kind in ("date", "date-time", "time"):
            return Form("boxes", boxes=tuple(self._moment(kind)))
        if kind in _PLACES:
            names = ("latitude", "longitude", "accuracy")
            widths = (" " * 3 + "." + " " * 5, " " * 4 + "." + " " * 5, " " * 3)
            return Form("boxes", boxes=tuple(Boxes(self.words[n], w) for n, w in zip(names, widths, strict=True)))
        if kind == "signature":
            return Form("signature")
        if kind in _ELSEWHERE:
            return Form("elsewhere", note=self.words["by_phone"])
        if kind == "read-back":
            source = part.reads_back
            number = self.rules.name_of(source) if source is not None else "…"
            both = [Choice("1", self.words["yes"]), Choice("2", self.words["no"])]
            return Form("read-back", tuple(both), note=say(self.words, "read_back", number=number))
        if kind == "unit":
            return Form("lines", note=self.words["from_register"])
        if part.raw["mask"]:
            return Form("boxes", boxes=(Boxes("", _mask_boxes(part.raw["mask"])),))
        return Form("lines", lines=1 if part.most is not None and part.most <= 60 else 2)

    def _coded(self, part: PartSpec) -> Form:
        kind, name = part.kind.name, part.raw["code_list"]
        codes = self.release.lists.get(name, [])
        if len(codes) > MOST_ON_A_LINE:
            self._keep_list(name, codes)
            note = say(self.words, "list_at_end", name=name)
            return Form(
                "long list", boxes=(Boxes(self.words["code"], " " * max(len(c["code"]) for c in codes)),), note=note
            )
        if kind == "single answer":
            leads = self._leads(part, {code["code"]: code["code"] for code in codes})
        elif kind == "multiple answer":
            leads = self._leads(part, {code["code"]: (code["code"],) for code in codes if code["exclusive"]})
        else:
            leads = {}
        form = {"ranking": "ranking"}.get(kind, "choices")
        note = {"ranking": "rank", "multiple answer": "choose_many"}.get(kind, "choose_one")
        choices = tuple(self._choices(part, codes, leads))
        return Form("ranking" if form == "ranking" else "choices", choices, note=self.words[note])

    def _choices(self, part: PartSpec, codes: Iterable[dict[str, Any]], leads: dict[str, str]) -> Iterator[Choice]:
        """The codes in an order that puts together what hangs under one code of an earlier list."""
        attribute, parents = self._hangs_under(part)
        shown = list(codes)
        if attribute:
            order = {code: number for number, code in enumerate(parents)}
            shown.sort(key=lambda c: order.get(c["attributes"].get(attribute, ""), len(order)))
        for code in shown:
            above = code["attributes"].get(attribute, "") if attribute else ""
            yield Choice(
                code["code"], label_in(code["label"], self.language, code["code"]), leads.get(code["code"], ""),
                bool(code["specify"]), parents.get(above, above), tuple(code["media"]),
            )  # fmt: skip

    def _hangs_under(self, part: PartSpec) -> tuple[str, dict[str, str]]:
        """The attribute that a plain filter compares with an earlier answer, and that answer's labels by code."""
        tree = part.raw["code_filter"]
        if tree is None or tree[0] != "is":
            return "", {}
        for attribute, value in (tree[1:], tree[:0:-1]):
            if attribute[0] == "attribute" and value[0] == "variable":
                labels = self.release.labels.get(self.release.parts[value[1]].raw["code_list"], {})
                return attribute[1], {code: label_in(texts, self.language, code) for code, texts in labels.items()}
        return "", {}

    def _keep_list(self, name: str, codes: list[dict[str, Any]]) -> None:
        fits = len(codes) <= MOST_ON_PAPER
        shown = [Choice(c["code"], label_in(c["label"], self.language, c["code"])) for c in codes] if fits else []
        self.lists[name] = CodeSheet(name, tuple(shown), len(codes))

    def _leads(self, part: PartSpec, answers: dict[str, Any]) -> dict[str, str]:
        return {name: self._lead(part, target) for name, target in skips_of(self.release, part, answers).items()}

    def _lead(self, part: PartSpec, target: int) -> str:
        if target == END:
            return self.words["next_line" if part.rosters else "go_end"]
        while target not in self.rules.numbers and target + 1 < len(self.release.parts):
            target += 1
        return say(self.words, "go_to", number=self.rules.name_of(target))

    def _moment(self, kind: str) -> Iterator[Boxes]:
        if kind != "time":
            yield from (Boxes(self.words[name], " " * width) for name, width in (("day", 2), ("month", 2), ("year", 4)))
        if kind != "date":
            yield from (Boxes(self.words[name], "  ") for name in ("hour", "minute"))

    def _number_boxes(self, part: PartSpec) -> str:
        """As many boxes as the largest number that its limits and hard checks name has digits."""
        sign = " " if part.least is not None and part.least < 0 else ""
        digits = min(self._digits(part, frozenset()) or _WIDTHS.get(part.kind.name, 6), 12)
        return f"{sign}{' ' * digits}{'' if part.kind.name == 'whole number' else '.  '}"

    def _digits(self, part: PartSpec, seen: frozenset[int]) -> int:
        """0 where nothing says how large an answer may be; another question's limits count as its own."""
        found = [len(str(int(abs(limit)))) for limit in (part.least, part.most) if limit is not None]
        for check in part.raw["checks"]:
            op, *sides = check["rule"]
            if check["strength"] != "must" or op not in _LIMITING or sides[0][:2] != ["variable", part.index]:
                continue
            for side in sides[1:]:
                if side[:2] == ["literal", "number"]:
                    found.append(len(str(int(abs(Decimal(side[2]))))))
                elif side[0] == "variable" and side[1] not in seen:
                    found.append(self._digits(self.release.parts[side[1]], seen | {part.index}))
        return max(found, default=0)


def _mask_boxes(mask: str) -> str:
    """A box for each sign that is written in, what is fixed printed between; an optional sign has a box too."""
    return "".join(" " if sign[0] in _MASK_SIGNS else sign[0] for sign in re.findall(r"[^?]\??", mask))
