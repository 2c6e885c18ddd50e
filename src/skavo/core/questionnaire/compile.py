"""Script to release: every rule checked and turned into a typed tree.

A release is plain JSON, so that the phone can load it without any of this. Its hash is that of its canonical JSON
(sorted keys, no spaces, UTF-8), so that the same questionnaire always has the same hash.
"""

from __future__ import annotations

import hashlib
import json
import re
from dataclasses import dataclass
from typing import Any

from skavo.core.interview.kinds import KINDS
from skavo.core.questionnaire.findings import Finding, from_fault
from skavo.core.questionnaire.outline import Entry, base_scope, build_outline, symbols_of
from skavo.core.questionnaire.script import Check, Script, Texts
from skavo.core.questionnaire.structure import check_structure
from skavo.core.rules.check import check_rule, rule_type
from skavo.core.rules.types import NUMBER, YES_NO, Scope, Symbol, Type

RELEASE_FORMAT = "skavo-release-1"
_PLACEHOLDER = re.compile(r"\{([^{}]*)\}")
_REPEATS = {
    "times": re.compile(r"^\s*(?P<rule>.+?)\s+times\s*$", re.S),
    "codes": re.compile(r"^\s*for\s+each\s+code\s+in\s+(?P<rule>\w+)\s*$"),
    "while": re.compile(r"^\s*while\s+(?P<rule>.+?)\s*$", re.S),
}


@dataclass(frozen=True)
class Compiled:
    """`release` is None while there are errors among the findings."""

    findings: list[Finding]
    release: dict[str, Any] | None

    @property
    def errors(self) -> list[Finding]:
        return [f for f in self.findings if f.severity == "error"]


def compile_script(script: Script) -> Compiled:
    """Check every line of `script` and compile it; all faults are found, not only the first."""
    entries = build_outline(script)
    compiler = _Compiler(script, entries)
    parts = [compiler.compile_entry(entry) for entry in entries]
    findings = sorted(
        [*check_structure(script, entries), *compiler.findings], key=lambda f: (f.line is None, f.line or 0)
    )
    if any(f.severity == "error" for f in findings):
        return Compiled(findings, None)
    lists = {
        entry.name: [code.model_dump(mode="json") for code in entry.codes] for entry in script.code_lists if entry.name
    }
    release = {
        "format": RELEASE_FORMAT,
        "name": script.name,
        "title": script.title,
        "languages": script.languages,
        "code_lists": lists,
        "parts": parts,
    }
    return Compiled(findings, release)


def content_hash(release: dict[str, Any]) -> str:
    """SHA-256 of the release's canonical JSON, in hexadecimal."""
    canonical = json.dumps(release, sort_keys=True, separators=(",", ":"), ensure_ascii=False)
    return hashlib.sha256(canonical.encode("utf-8")).hexdigest()


class _Compiler:
    def __init__(self, script: Script, entries: list[Entry]) -> None:
        self.script = script
        self.symbols = symbols_of(entries)
        self.scope = base_scope(script, entries, self.symbols)
        self.findings: list[Finding] = []

    def compile_entry(self, entry: Entry) -> dict[str, Any]:
        part = entry.part
        kind = KINDS.get(part.kind)
        before = self._scope(entry.rosters, entry.index - 1)
        derived = self._derived(entry, before)
        inside = (*entry.rosters, entry.index) if part.kind == "roster" else entry.rosters
        until_end = self._scope(entry.rosters, entry.end - 1)
        return {
            "id": part.id,
            "kind": part.kind,
            "type": self.symbols[part.variable].type.name if part.variable in self.symbols else "",
            "variable": part.variable,
            "parent": entry.parent,
            "rosters": list(entry.rosters),
            "end": entry.end,
            "specifies": entry.specifies,
            "wording": self._texts(entry, "wording", part.wording, self._scope(inside, entry.index - 1)),
            "instruction": self._texts(entry, "instruction", part.instruction, before),
            "asked_when": self._rule(entry, "asked_when", part.asked_when, before, YES_NO),
            "needed": self._needed(entry, before),
            "repeat": self._repeat(entry, before, inside),
            "derived": derived,
            "default": self._default(entry, before) if kind and kind.takes_answer else None,
            "code_list": part.code_list if kind and kind.uses_codes else "",
            "code_filter": self._code_filter(entry, before),
            "checks": [
                *self._checks(entry, "must_hold", part.must_hold, until_end),
                *self._checks(entry, "should_hold", part.should_hold, until_end),
            ],
            "special": part.special_answers if kind and kind.takes_answer else [],
            "mask": part.mask,
            "least": part.least,
            "most": part.most,
            "sensitive": part.sensitive,
        }

    def _scope(self, rosters: tuple[int, ...], latest: int) -> Scope:
        base = self.scope
        return Scope(base.symbols, base.codes, rosters, latest, base.roster_names, None, base.attributes)

    def _rule(
        self, entry: Entry, field: str, text: str, scope: Scope, expected: Type | None, offset: int = 0
    ) -> Any | None:
        if not text.strip():
            return None
        tree, faults = check_rule(text, scope, expected)
        self.findings += [from_fault(f, entry.source, entry.part.id, field, offset) for f in faults]
        return tree

    def _fault(self, entry: Entry, field: str, code: str, message: str, mend: str, length: int = 0) -> None:
        self.findings.append(Finding("error", code, message, mend, entry.source, entry.part.id, field, 0, length))

    def _needed(self, entry: Entry, scope: Scope) -> Any:
        text = entry.part.answer_needed.strip()
        if text in ("", "no"):
            return False
        return True if text == "yes" else self._rule(entry, "answer_needed", text, scope, YES_NO)

    def _derived(self, entry: Entry, scope: Scope) -> Any | None:
        part = entry.part
        if part.kind != "derived value":
            return None
        if not part.derived.strip():
            self._fault(entry, "derived", "no_rule", "A derived value needs a rule.", "Write what it is made of.")
            return None
        tree, faults = check_rule(part.derived, scope, None)
        self.findings += [from_fault(f, entry.source, part.id, "derived") for f in faults]
        if tree is not None and part.variable in self.symbols:
            symbol = self.symbols[part.variable]
            self.symbols[part.variable] = Symbol(
                symbol.name, symbol.index, rule_type(part.derived, scope), symbol.rosters
            )
        return tree

    def _default(self, entry: Entry, scope: Scope) -> Any | None:
        part = entry.part
        text = part.default.strip()
        code_list = self.script.list_named(part.code_list) if KINDS[part.kind].uses_codes else None
        if code_list and text in [c.code for c in code_list.codes]:
            return ["literal", "code", text]
        return self._rule(entry, "default", part.default, scope, Type(KINDS[part.kind].type))  # type: ignore[arg-type]

    def _repeat(self, entry: Entry, before: Scope, inside: tuple[int, ...]) -> Any | None:
        part = entry.part
        if part.kind != "roster":
            return None
        text = part.repeated
        for form, pattern in _REPEATS.items():
            match = pattern.match(text)
            if match:
                return self._repeat_rule(entry, form, match, before, inside)
        message = "The roster does not say how often it is repeated." if not text.strip() else "This cannot be read."
        mend = "Write: workers times · for each code in tools · while another_one is yes"
        self._fault(entry, "repeated", "no_repeat", message, mend, len(text))
        return None

    def _repeat_rule(
        self, entry: Entry, form: str, match: re.Match[str], before: Scope, inside: tuple[int, ...]
    ) -> Any | None:
        text, offset = match["rule"], match.start("rule")
        if form == "times":
            return _form("times", self._rule(entry, "repeated", text, before, NUMBER, offset))
        if form == "while":
            return _form(
                "while", self._rule(entry, "repeated", text, self._scope(inside, entry.end - 1), YES_NO, offset)
            )
        symbol = before.symbols.get(text)
        tree = self._rule(entry, "repeated", text, before, None, offset)
        if tree is not None and symbol is not None and symbol.type.name != "codes":
            self._fault(entry, "repeated", "wrong_type", f"“{text}” is not a multiple answer.", "", len(text))
            return None
        return ["codes", tree, symbol.type.code_list] if tree is not None and symbol is not None else None

    def _code_filter(self, entry: Entry, before: Scope) -> Any | None:
        part = entry.part
        scope = Scope(
            before.symbols, before.codes, before.rosters, before.latest, before.roster_names, part.code_list,
            before.attributes,
        )  # fmt: skip
        return self._rule(entry, "code_filter", part.code_filter, scope, YES_NO)

    def _checks(self, entry: Entry, field: str, checks: list[Check], scope: Scope) -> list[dict[str, Any]]:
        compiled = []
        for number, check in enumerate(checks):
            tree = self._rule(entry, f"{field}.{number}.rule", check.rule, scope, YES_NO)
            message = self._texts(entry, f"{field}.{number}.message", check.message, scope)
            if tree is not None:
                strength = "must" if field == "must_hold" else "should"
                compiled.append({"strength": strength, "text": check.rule, "rule": tree, "message": message})
        return compiled

    def _texts(self, entry: Entry, field: str, texts: Texts, scope: Scope) -> dict[str, list[Any]]:
        return {lang: self._segments(entry, f"{field}.{lang}", text, scope) for lang, text in texts.items() if text}

    def _segments(self, entry: Entry, field: str, text: str, scope: Scope) -> list[Any]:
        """Plain stretches and typed trees in turn: `How old is {name}?` is ["How old is ", {rule, type}, "?"]."""
        segments: list[Any] = []
        at = 0
        for match in _PLACEHOLDER.finditer(text):
            segments.append(text[at : match.start()])
            rule, offset = match.group(1), match.start(1)
            tree = self._rule(entry, field, rule, scope, None, offset)
            if not rule.strip():
                self._fault(entry, field, "empty_rule", "Nothing stands between { and }.", "Put a variable there.")
            if tree is not None:
                kind = rule_type(rule, scope)
                segments.append({"rule": tree, "type": kind.name, "code_list": kind.code_list})
            at = match.end()
        segments.append(text[at:])
        return [s for s in segments if s != ""]


def _form(form: str, tree: Any | None) -> Any | None:
    return None if tree is None else [form, tree]
