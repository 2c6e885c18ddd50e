"""Renaming variables and codes: every rule and every text that mentions one follows, and nothing else does."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

from skavo.core.lists.hanging import hanging
from skavo.core.questionnaire.compile_part import PLACEHOLDER, PartCompiler
from skavo.core.questionnaire.known import NOTHING_KNOWN
from skavo.core.questionnaire.outline import REPEATS, Entry, build_outline
from skavo.core.questionnaire.script import CodeList, Part, Script, ScriptCheck, Texts
from skavo.core.rules.mentions import recode_in_rule, rename_in_rule
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
    return _Renaming(script, names).rewritten()


def rename_codes(script: Script, code_list: str, codes: Mapping[str, str]) -> Renamed:
    """The script with codes of a list called otherwise; lists that hang under it follow in their attributes."""
    return _Recoding(script, code_list, codes).rewritten()


class _Rewriting:
    """Walks all rules and texts of a script, each with what can be seen from its place."""

    def __init__(self, script: Script) -> None:
        self.script = script
        self.entries = build_outline(script)
        compiler = PartCompiler(script, self.entries, NOTHING_KNOWN)
        for entry in self.entries:
            compiler.compile_entry(entry)
        self.symbols = compiler.symbols
        self.scope = compiler.scope
        self.followed: list[Followed] = []

    def rule(self, text: str, scope: Scope) -> str:
        """A rule as it is written from now on."""
        raise NotImplementedError

    def own_changes(self, part: Part) -> dict[str, str]:
        """What changes on a line besides its rules and texts, and is not told as having followed."""
        raise NotImplementedError

    def default(self, part: Part, scope: Scope) -> str:
        return part.default if self.is_code(part) else self.rule(part.default, scope)

    def code_lists(self) -> list[CodeList]:
        return self.script.code_lists

    def rewritten(self) -> Renamed:
        parts = [self._part(entry) for entry in self.entries if entry.specifies is None]
        units = [entry.model_copy(deep=True) for entry in self.script.unit_lists]
        for entry in units:
            for unit in entry.units:
                renamed = self.rule(unit.factor, self.scope)
                if renamed != unit.factor:
                    self.followed.append(Followed("", f"{entry.name} · {unit.unit}", "factor"))
                    unit.factor = renamed
        changed = {"parts": parts, "unit_lists": units, "code_lists": self.code_lists()}
        return Renamed(self.script.model_copy(update=changed), self.followed)

    def _part(self, entry: Entry) -> Part:
        # The script's own line: the outline's may carry the code list of a grid.
        part = self.script.parts[entry.source]
        before = self.scope.inside(entry.rosters)
        inside = self.scope.inside((*entry.rosters, entry.index)) if part.kind == "roster" else before
        filtered = replace(before, filtered_list=part.code_list)
        changed = {
            "wording": self._texts(part.wording, inside),
            "instruction": self._texts(part.instruction, before),
            "asked_when": self.rule(part.asked_when, before),
            "repeated": self._repeated(part.repeated, before, inside),
            "derived": self.rule(part.derived, before),
            "code_filter": self.rule(part.code_filter, filtered),
            "default": self.default(part, before),
            "fills": self.rule(part.fills, before),
            "answer_needed": self.rule(part.answer_needed, before),
            "must_hold": [self._check(check, before) for check in part.must_hold],
            "should_hold": [self._check(check, before) for check in part.should_hold],
            "reads_back": self.reads_back(part),
        }
        fields = [f for f, value in changed.items() if value != getattr(part, f)]
        self.followed += [Followed(part.id, part.variable, field) for field in fields]
        return part.model_copy(update={**changed, **self.own_changes(part)})

    def is_code(self, part: Part) -> bool:
        return part.default.strip() in set(self.scope.codes(part.code_list))

    def reads_back(self, part: Part) -> str:
        return part.reads_back

    def _repeated(self, text: str, before: Scope, inside: Scope) -> str:
        for form, pattern in REPEATS.items():
            if match := pattern.match(text):
                rule = self.rule(match["rule"], inside if form == "while" else before)
                return text[: match.start("rule")] + rule + text[match.end("rule") :]
        return text

    def _check(self, check: ScriptCheck, scope: Scope) -> ScriptCheck:
        return ScriptCheck(rule=self.rule(check.rule, scope), message=self._texts(check.message, scope))

    def _texts(self, texts: Texts, scope: Scope) -> Texts:
        return {
            lang: PLACEHOLDER.sub(lambda m: "{" + self.rule(m[1], scope) + "}", text) for lang, text in texts.items()
        }


class _Renaming(_Rewriting):
    def __init__(self, script: Script, names: Mapping[str, str]) -> None:
        super().__init__(script)
        self.own = names
        self.names = {
            symbol.name: new
            for entry in self.entries
            if (new := self._new_name(entry)) is not None
            and (symbol := self.symbols.get(entry.part.variable)) is not None
            and symbol.index == entry.index
        }
        self.mentioned = _any_of(self.names)

    def _new_name(self, entry: Entry) -> str | None:
        if entry.specifies is None:
            return self.own.get(entry.part.id)
        asked = self.own.get(self.entries[entry.specifies].part.id)
        return None if asked is None else f"{asked}_other"

    def rule(self, text: str, scope: Scope) -> str:
        return rename_in_rule(text, scope, self.names) if self.mentioned and self.mentioned.search(text) else text

    def own_changes(self, part: Part) -> dict[str, str]:
        return {"variable": self.own.get(part.id, part.variable)}

    def reads_back(self, part: Part) -> str:
        return self.names.get(part.reads_back, part.reads_back)


class _Recoding(_Rewriting):
    def __init__(self, script: Script, code_list: str, codes: Mapping[str, str]) -> None:
        super().__init__(script)
        self.named, self.codes = code_list, codes
        self.mentioned = _any_of(codes)

    def rule(self, text: str, scope: Scope) -> str:
        if not self.mentioned or not self.mentioned.search(text):
            return text
        return recode_in_rule(text, scope, {self.named: self.codes})

    def own_changes(self, part: Part) -> dict[str, str]:
        return {}

    def default(self, part: Part, scope: Scope) -> str:
        if part.code_list == self.named and self.is_code(part):
            return self.codes.get(part.default.strip(), part.default)
        return super().default(part, scope)

    def code_lists(self) -> list[CodeList]:
        held = {link.code_list: link.attribute for link in hanging(self.script) if link.under == self.named}
        return [self._list(entry, held.get(entry.name)) for entry in self.script.code_lists]

    def _list(self, entry: CodeList, attribute: str | None) -> CodeList:
        changed = entry.model_copy(deep=True) if entry.name == self.named or attribute else entry
        for code in changed.codes if changed is not entry else ():
            if entry.name == self.named:
                code.code = self.codes.get(code.code, code.code)
            if attribute and attribute in code.attributes:
                under = code.attributes[attribute]
                code.attributes[attribute] = self.codes.get(under, under)
        return changed


def _any_of(words: Iterable[str]) -> re.Pattern[str] | None:
    """Most texts mention none of them, and need not be checked to know it."""
    said = "|".join(map(re.escape, words))
    return re.compile(rf"(?<!\w)(?:{said})(?!\w)") if said else None
