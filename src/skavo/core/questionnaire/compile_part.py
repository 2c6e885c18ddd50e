"""One line of a script compiled: its rules as typed trees, its texts as pieces."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from skavo.core.interview.kinds import KINDS
from skavo.core.questionnaire.findings import Finding, from_fault
from skavo.core.questionnaire.known import Known
from skavo.core.questionnaire.memory import MEMORY, KeptLine, line_key, script_key
from skavo.core.questionnaire.outline import REPEATS, Entry, base_scope, symbols_of, units_of
from skavo.core.questionnaire.script import Script, ScriptCheck, Texts, UnitOfMeasure
from skavo.core.rules.check import Checker, check_typed
from skavo.core.rules.check_factors import factor_faults, factor_tree
from skavo.core.rules.check_names import UNIT_FACTS
from skavo.core.rules.faults import Span
from skavo.core.rules.syntax import parse_rule
from skavo.core.rules.types import NUMBER, ROWS, UNIT, UNKNOWN, YES_NO, Scope, Symbol, Type
from skavo.core.rules.units import Unit, base_unit

PLACEHOLDER = re.compile(r"\{([^{}]*)\}")


class PartCompiler:
    """Compiles the lines of one script in their order; what is wrong is collected in `findings`."""

    def __init__(self, script: Script, entries: list[Entry], known: Known) -> None:
        self.script = script
        self.entries = entries
        self.symbols = symbols_of(script, entries)
        self.scope = base_scope(script, entries, self.symbols, known)
        self.findings: list[Finding] = []
        self.hidden = _hidden_parts(entries)
        self.whole = (
            script_key(script),
            repr(sorted(known.registers.items())),
            repr(sorted(known.codes.items())),
            known.visited,
            tuple(self.scope.row_types.items()),
        )

    def compile_entry(self, entry: Entry) -> dict[str, Any]:
        """The line as the release holds it; taken from memory where nothing about it has changed."""
        key = line_key((*self.whole[0], self.whole[1:]), entry, self.scope, self.hidden.get(entry.index, frozenset()))
        line = MEMORY.find(key)
        if line is None:
            before = len(self.findings)
            compiled = self._compile(entry)
            symbol = self.symbols.get(entry.part.variable)
            line = KeptLine(compiled, symbol.type if symbol and symbol.index == entry.index else None)
            if len(self.findings) == before:
                MEMORY.keep(key, line)
        elif line.derived is not None and entry.part.variable in self.symbols:
            self._set_type(entry, line.derived)
        return line.compiled

    def _set_type(self, entry: Entry, kind: Type) -> None:
        symbol = self.symbols[entry.part.variable]
        if symbol.index == entry.index:
            self.symbols[entry.part.variable] = replace(symbol, type=kind)

    def _compile(self, entry: Entry) -> dict[str, Any]:
        part = entry.part
        kind = KINDS.get(part.kind)
        before = self._scope(entry, entry.rosters, entry.index - 1)
        derived = self._derived(entry, before)
        inside = (*entry.rosters, entry.index) if part.kind == "roster" else entry.rosters
        until_end = replace(self._scope(entry, entry.rosters, entry.end - 1), hidden=frozenset())
        takes_answer = kind is not None and kind.takes_answer
        symbol = self.symbols.get(part.variable)
        fills = self._fills(entry, before, symbol) if takes_answer or derived is not None else None
        return {
            "id": part.id,
            "kind": part.kind,
            "type": symbol.type.name if symbol else "",
            "base_unit": base_unit(self.scope.units, symbol.type.dimension) if symbol and symbol.type.dimension else "",
            "variable": part.variable,
            "parent": entry.parent,
            "rosters": list(entry.rosters),
            "end": entry.end,
            "specifies": entry.specifies,
            "wording": self._texts(entry, "wording", part.wording, self._scope(entry, inside, entry.index - 1)),
            "instruction": self._texts(entry, "instruction", part.instruction, before),
            "asked_when": self._rule(entry, "asked_when", part.asked_when, before, YES_NO),
            "asked_when_text": part.asked_when,
            "needed": self._needed(entry, before),
            "repeat": self._repeat(entry, before, inside),
            "derived": derived,
            "default": self._default(entry, before) if takes_answer else None,
            "code_list": part.code_list if kind and (kind.uses_codes or part.kind == "grid") else "",
            "code_filter": self._code_filter(entry, before),
            "checks": [
                *self._checks(entry, "must_hold", part.must_hold, until_end),
                *self._checks(entry, "should_hold", part.should_hold, until_end),
            ],
            "special": part.special_answers if takes_answer else [],
            "mask": part.mask,
            "units": self._units(entry, before),
            "least": part.least,
            "most": part.most,
            "reads_back": self._reads_back(entry, before),
            "register": part.register_name,
            "sensitive": part.sensitive,
            "read_aloud": part.read_aloud,
            "order": part.order or "fixed",
            "media": part.media,
            # Left out where there is none: a phone of an earlier build does without.
            **({"fills": fills} if fills is not None else {}),
        }

    def _fills(self, entry: Entry, before: Scope, symbol: Symbol | None) -> Any | None:
        """The field of a unit that an answer becomes: ["unit", which, field, type]."""
        text = entry.part.fills
        tree, kind = self._typed(entry, "fills", text, before, None)
        if tree is None or symbol is None or kind == UNKNOWN:
            return None
        if tree[0] != "unit" or tree[2] in UNIT_FACTS:
            message, mend = (
                f"“{text}” is no field of a unit.",
                "Write unit.field, or question.field of a unit that is picked.",
            )
            self._fault(entry, "fills", "no_field", message, mend, len(text))
            return None
        kind = Checker(before).check(parse_rule(text))[1]
        if kind.name not in ("any", symbol.type.name):
            message = f"{text} is {kind.words}, and this is {symbol.type.words}."
            self._fault(
                entry, "fills", "wrong_type", message, "Fill another field, or ask for it in that way.", len(text)
            )
            return None
        lacks = [code for code in self._codes_of(symbol.type) if code not in self._codes_of(kind)]
        if kind.code_list and lacks:
            message = f"The field has no code {', '.join(lacks)}: such an answer does not fill it."
            mend = "Give both lists the same codes."
            self.findings.append(Finding("doubt", "other_codes", message, mend, entry.source, entry.part.id, "fills"))
        return tree

    def _codes_of(self, kind: Type) -> list[str]:
        return list(self.scope.codes(kind.code_list)) if kind.code_list else []

    def _scope(self, entry: Entry, rosters: tuple[int, ...], latest: int) -> Scope:
        hidden = self.hidden.get(entry.index, frozenset())
        return replace(self.scope, rosters=rosters, latest=latest, hidden=hidden)

    def _rule(
        self, entry: Entry, field: str, text: str, scope: Scope, expected: Type | None, offset: int = 0
    ) -> Any | None:
        return self._typed(entry, field, text, scope, expected, offset)[0]

    def _typed(
        self, entry: Entry, field: str, text: str, scope: Scope, expected: Type | None, offset: int = 0
    ) -> tuple[Any | None, Type]:
        if not text.strip():
            return None, UNKNOWN
        tree, kind, faults = check_typed(text, scope, expected)
        self.findings += [from_fault(f, entry.source, entry.part.id, field, offset) for f in faults]
        return tree, kind

    def _fault(
        self, entry: Entry, field: str, code: str, message: str, mend: str, length: int = 0, start: int = 0
    ) -> None:
        self.findings.append(Finding("error", code, message, mend, entry.source, entry.part.id, field, start, length))

    def _needed(self, entry: Entry, scope: Scope) -> Any:
        text = entry.part.answer_needed.strip()
        if text in ("", "no"):
            return False
        return True if text == "yes" else self._rule(entry, "answer_needed", text, scope, YES_NO)

    def _derived(self, entry: Entry, scope: Scope) -> Any | None:
        part = entry.part
        kind = KINDS.get(part.kind)
        if kind is None or not kind.derives:
            return None
        if not part.derived.strip():
            message, mend = f"A {part.kind} needs a rule.", "Write what it is made of."
            if part.kind == "carried value":
                mend = "Write where it comes from: earlier.variable or unit.field."
            self._fault(entry, "derived", "no_rule", message, mend)
            return None
        tree, found = self._typed(entry, "derived", part.derived, scope, None)
        if tree is not None and part.variable in self.symbols:
            self._set_type(entry, found)
        return tree

    def _default(self, entry: Entry, scope: Scope) -> Any | None:
        part = entry.part
        text = part.default.strip()
        kind = KINDS[part.kind]
        if kind.uses_codes and text in self.scope.codes(part.code_list):
            return ["literal", "code", text] if kind.type == "code" else ["literal", "codes", [text]]
        symbol = self.symbols.get(part.variable)
        wanted = symbol.type if symbol is not None and symbol.index == entry.index else Type(kind.type)  # type: ignore[arg-type]
        return self._rule(entry, "default", part.default, scope, wanted)

    def _repeat(self, entry: Entry, before: Scope, inside: tuple[int, ...]) -> Any | None:
        part = entry.part
        if part.kind != "roster":
            return None
        text = part.repeated
        for form, pattern in REPEATS.items():
            match = pattern.match(text)
            if match:
                return self._repeat_rule(entry, form, match, before, inside)
        message = "The roster does not say how often it is repeated." if not text.strip() else "This cannot be read."
        mend = "Write: workers times · for each code in tools · while another_one is yes · for each unit under workshop"
        self._fault(entry, "repeated", "no_repeat", message, mend, len(text))
        return None

    def _repeat_rule(
        self, entry: Entry, form: str, match: re.Match[str], before: Scope, inside: tuple[int, ...]
    ) -> Any | None:
        text, offset = match["rule"], match.start("rule")
        if form == "times":
            return _form("times", self._rule(entry, "repeated", text, before, NUMBER, offset))
        if form == "while":
            scope = self._scope(entry, inside, entry.end - 1)
            return _form("while", self._rule(entry, "repeated", text, scope, YES_NO, offset))
        if form == "units":
            return _form("units", self._rule(entry, "repeated", text, before, UNIT, offset))
        tree, found = self._typed(entry, "repeated", text, before, None, offset)
        if tree is not None and found.name != "codes":
            self._fault(
                entry, "repeated", "wrong_type", f"“{text}” is not a multiple answer.", "", len(entry.part.repeated)
            )
            return None
        return ["codes", tree, found.code_list] if tree is not None else None

    def _code_filter(self, entry: Entry, before: Scope) -> Any | None:
        part = entry.part
        return self._rule(entry, "code_filter", part.code_filter, replace(before, filtered_list=part.code_list), YES_NO)

    def _checks(self, entry: Entry, field: str, checks: list[ScriptCheck], scope: Scope) -> list[dict[str, Any]]:
        compiled = []
        # A hard check declares the limits that it would then be found to keep always.
        within = replace(scope, own=entry.index) if field == "must_hold" else scope
        for number, check in enumerate(checks):
            tree = self._rule(entry, f"{field}.{number}.rule", check.rule, within, YES_NO)
            message = self._texts(entry, f"{field}.{number}.message", check.message, scope)
            if tree is not None:
                strength = "must" if field == "must_hold" else "should"
                compiled.append({"strength": strength, "text": check.rule, "rule": tree, "message": message})
        return compiled

    def _units(self, entry: Entry, before: Scope) -> list[dict[str, Any]]:
        compiled = []
        for unit in units_of(self.script, entry.part):
            checker = Checker(before)
            tree = factor_tree(checker, self._unit(unit), Span(0, len(entry.part.unit)))
            self.findings += [from_fault(f, entry.source, entry.part.id, "unit") for f in checker.faults]
            if tree is not None:
                compiled.append({"unit": unit.unit, "label": unit.label, "factor": tree})
        return compiled

    def check_units(self) -> Iterator[Finding]:
        """What is wrong with the factors of units themselves; asked when all lines are compiled and their types known."""
        for entry in self.script.unit_lists:
            for unit in entry.units:
                for fault in factor_faults(Checker(self.scope), self._unit(unit)) if unit.factor.strip() else ():
                    found = from_fault(fault, 0, "", "factor")
                    message = f"How much a {unit.unit} is: {fault.message}"
                    yield replace(found, message=message, line=None, unit_list=entry.name, item=unit.unit)

    def _unit(self, unit: UnitOfMeasure) -> Unit:
        lists = (entry.name for entry in self.script.unit_lists if any(u is unit for u in entry.units))
        return Unit(unit.unit, unit.dimension, unit.factor, next(lists, ""))

    def _reads_back(self, entry: Entry, before: Scope) -> int | None:
        name = entry.part.reads_back
        if entry.part.kind != "read-back" or not name:
            return None
        tree = self._rule(entry, "reads_back", name, before, None)
        symbol = self.symbols.get(name)
        return symbol.index if tree is not None and symbol is not None else None

    def _texts(self, entry: Entry, field: str, texts: Texts, scope: Scope) -> dict[str, list[Any]]:
        return {lang: self._segments(entry, f"{field}.{lang}", text, scope) for lang, text in texts.items() if text}

    def _segments(self, entry: Entry, field: str, text: str, scope: Scope) -> list[Any]:
        """Plain stretches and typed trees in turn: `How old is {name}?` is ["How old is ", {rule, type}, "?"]."""
        segments: list[Any] = []
        at = 0
        for match in PLACEHOLDER.finditer(text):
            segments.append(text[at : match.start()])
            rule, offset = match.group(1), match.start(1)
            tree, kind = self._typed(entry, field, rule, scope, None, offset)
            if not rule.strip():
                self._fault(entry, field, "empty_rule", "Nothing stands between { and }.", "Put a variable there.")
            if kind == ROWS:
                mend = f"Put one value there: {{count({rule.strip()})}}."
                self._fault(entry, field, "wrong_type", f"“{rule.strip()}” has many rows.", mend, len(rule), offset)
            elif tree is not None:
                segments.append(self._piece(tree, kind))
            at = match.end()
        segments.append(text[at:])
        return [s for s in segments if s != ""]

    def _piece(self, tree: Any, kind: Type) -> dict[str, Any]:
        piece: dict[str, Any] = {"rule": tree, "type": kind.name, "code_list": kind.code_list}
        if tree[0] == "size" and tree[1][0] == "variable":
            # In a sentence a quantity is said as it was answered, in sacks and not in kilograms.
            units = units_of(self.script, self.entries[tree[1][1]].part)
            return {**piece, "rule": tree[1], "units": [{"unit": u.unit, "label": u.label} for u in units]}
        if kind.name == "quantity" and kind.dimension:
            piece["base_unit"] = base_unit(self.scope.units, kind.dimension)
        return piece


def _form(form: str, tree: Any | None) -> Any | None:
    return None if tree is None else [form, tree]


def _hidden_parts(entries: list[Entry]) -> dict[int, frozenset[int]]:
    """For each part inside a section of random order: the parts of that section's other branches."""
    hidden: dict[int, frozenset[int]] = {}
    for section in entries:
        kind = KINDS.get(section.part.kind)
        if kind is None or not kind.holds_parts or section.part.order != "random":
            continue
        within = frozenset(range(section.index + 1, section.end))
        for branch in (e for e in entries if e.parent == section.index):
            end = branch.end
            own = frozenset(range(branch.index, end))
            if branch.specifies is not None:
                own |= {branch.specifies}
            for index in range(branch.index, end):
                hidden[index] = hidden.get(index, frozenset()) | (within - own)
    return hidden
