"""Renaming variables: every rule and every text that mentions one follows, and nothing else does."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace

from skavo.core.questionnaire.compile_part import PLACEHOLDER, PartCompiler
from skavo.core.questionnaire.known import NOTHING_KNOWN
from skavo.core.questionnaire.outline import REPEATS, Entry, build_outline
from skavo.core.questionnaire.script import Part, Script, ScriptCheck, Texts
from skavo.core.rules.mentions import rename_in_rule
from skavo.core.rules.types import Scope


@dataclass(frozen=True)
class Followed:
    """A place that mentioned a renamed variable: its part, the part's variable and the field."""

    part_id: str
    variable: str
    field: str


@dataclass(frozen=True)
class Renamed:
    """`followed` are the places changed besides the names themselves; those of units have no part."""

    script: Script
    followed: list[Followed]


def rename_variables(script: Script, names: Mapping[str, str]) -> Renamed:
    """The script with parts called otherwise; `names` leads from the identity of a part to its new variable.

    Of two parts with one name the first is the one that rules mean, so that renaming the second changes no rule.
    """
    return _Renaming(script, names).all_renamed()


class _Renaming:
    def __init__(self, script: Script, names: Mapping[str, str]) -> None:
        self.script = script
        self.own = names
        self.entries = build_outline(script)
        compiler = PartCompiler(script, self.entries, NOTHING_KNOWN)
        for entry in self.entries:
            compiler.compile_entry(entry)
        self.scope = compiler.scope
        self.names = {
            symbol.name: new
            for entry in self.entries
            if (new := self._new_name(entry)) is not None
            and (symbol := compiler.symbols.get(entry.part.variable)) is not None
            and symbol.index == entry.index
        }
        # Most texts mention none of them, and need not be checked to know it.
        self.mentioned = re.compile(rf"\b(?:{'|'.join(map(re.escape, self.names))})\b") if self.names else None
        self.followed: list[Followed] = []

    def _new_name(self, entry: Entry) -> str | None:
        if entry.specifies is None:
            return self.own.get(entry.part.id)
        asked = self.own.get(self.entries[entry.specifies].part.id)
        return None if asked is None else f"{asked}_other"

    def all_renamed(self) -> Renamed:
        parts = [self._part(entry) for entry in self.entries if entry.specifies is None]
        units = [entry.model_copy(deep=True) for entry in self.script.unit_lists]
        for entry in units:
            for unit in entry.units:
                renamed = self._rule(unit.factor, self.scope)
                if renamed != unit.factor:
                    self.followed.append(Followed("", f"{entry.name} · {unit.unit}", "factor"))
                    unit.factor = renamed
        return Renamed(self.script.model_copy(update={"parts": parts, "unit_lists": units}), self.followed)

    def _part(self, entry: Entry) -> Part:
        # The script's own line: the outline's may carry the code list of a grid.
        part = self.script.parts[entry.source]
        before = self.scope.inside(entry.rosters)
        inside = self.scope.inside((*entry.rosters, entry.index)) if part.kind == "roster" else before
        filtered = replace(before, filtered_list=part.code_list)
        changed = {
            "variable": self.own.get(part.id, part.variable),
            "wording": self._texts(part.wording, inside),
            "instruction": self._texts(part.instruction, before),
            "asked_when": self._rule(part.asked_when, before),
            "repeated": self._repeated(part.repeated, before, inside),
            "derived": self._rule(part.derived, before),
            "code_filter": self._rule(part.code_filter, filtered),
            "default": part.default if self._is_code(part) else self._rule(part.default, before),
            "answer_needed": self._rule(part.answer_needed, before),
            "must_hold": [self._check(check, before) for check in part.must_hold],
            "should_hold": [self._check(check, before) for check in part.should_hold],
            "reads_back": self.names.get(part.reads_back, part.reads_back),
        }
        fields = [f for f, value in changed.items() if f != "variable" and value != getattr(part, f)]
        self.followed += [Followed(part.id, part.variable, field) for field in fields]
        return part.model_copy(update=changed)

    def _is_code(self, part: Part) -> bool:
        return part.default.strip() in set(self.scope.codes(part.code_list))

    def _rule(self, text: str, scope: Scope) -> str:
        if self.mentioned is None or not self.mentioned.search(text):
            return text
        return rename_in_rule(text, scope, self.names)

    def _repeated(self, text: str, before: Scope, inside: Scope) -> str:
        for form, pattern in REPEATS.items():
            if match := pattern.match(text):
                rule = self._rule(match["rule"], inside if form == "while" else before)
                return text[: match.start("rule")] + rule + text[match.end("rule") :]
        return text

    def _check(self, check: ScriptCheck, scope: Scope) -> ScriptCheck:
        return ScriptCheck(rule=self._rule(check.rule, scope), message=self._texts(check.message, scope))

    def _texts(self, texts: Texts, scope: Scope) -> Texts:
        return {
            lang: PLACEHOLDER.sub(lambda m: "{" + self._rule(m[1], scope) + "}", text) for lang, text in texts.items()
        }
