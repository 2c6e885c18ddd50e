"""A rule explained in words, and by what each of its parts gave."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field

from skavo.core.interview.engine import Engine
from skavo.core.interview.release import Release
from skavo.core.interview.shown import show_value
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.compile_part import PartCompiler
from skavo.core.questionnaire.known import NOTHING_KNOWN, Known
from skavo.core.questionnaire.outline import base_scope, build_outline, symbols_of
from skavo.core.questionnaire.script import Script, read_script
from skavo.core.rules.check_sets import OCCURS_WORDS
from skavo.core.rules.explain import Step, explain_outcome, explain_rule
from skavo.core.rules.faults import RuleSyntaxError
from skavo.core.rules.format import format_rule
from skavo.core.rules.functions import AGGREGATE_WORDS, FUNCTIONS, HIDDEN_FUNCTIONS, ROW_TESTS
from skavo.core.rules.mentions import mentions_in
from skavo.core.rules.types import Scope, Type
from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire
from skavo.services.refusals import Refused, not_found
from skavo.store.knowing import known_to


class ExplainIn(BaseModel):
    """A rule's text as it stands in a line of the script; `answers` are those of the preview, if there are any."""

    model_config = ConfigDict(extra="forbid")

    part_id: str
    text: str = Field(max_length=4000)
    list_filtered: bool = False
    answers: dict[str, Any] | None = None
    row: list[int | str] = Field(default=[])


class Explanation(BaseModel):
    """The rule in plain words, its canonical form, and, given answers, what each of its parts gave."""

    words: str
    canonical: str
    steps: list[Step]


ROWS_TRIED = 2


class FunctionWords(BaseModel):
    """A function with what it takes and gives, and whether it goes over the rows of a roster."""

    name: str
    parameters: list[str]
    words: str
    over_rows: bool


def function_words() -> list[FunctionWords]:
    plain = [
        FunctionWords(name=f.name, parameters=list(f.parameters), words=f.words, over_rows=False)
        for f in FUNCTIONS.values()
        if f.name not in HIDDEN_FUNCTIONS
    ]
    rows = [
        FunctionWords(name=name, parameters=["rows" if name in ROW_TESTS else "values"], words=words, over_rows=True)
        for name, words in AGGREGATE_WORDS.items()
    ]
    label = FunctionWords(name="label", parameters=["code"], words="the label of a code", over_rows=False)
    occurs = FunctionWords(name="occurs", parameters=["any", "any"], words=OCCURS_WORDS, over_rows=False)
    return [*rows, *plain, occurs, label]


class TrialIn(BaseModel):
    """A rule to be tried out with values made up for what it mentions: `answers` by path, as in `staff/1/age`.

    `rows` says how many rows a roster has, two where it says nothing.
    """

    model_config = ConfigDict(extra="forbid")

    script: Script
    part_id: str
    text: str = Field(max_length=4000)
    answers: dict[str, Any] = Field(default={}, max_length=500)
    rows: dict[str, Annotated[int, Field(ge=0, le=20)]] = Field(default={}, max_length=50)


class Mentioned(BaseModel):
    """A variable that the rule speaks of: what it is asked as, its codes, and the rosters around it, outermost first."""

    variable: str
    kind: str
    code_list: str
    rosters: list[str]


class Trial(BaseModel):
    """What the rule gave, part by part; none while it has errors. `mentions` are what values can be given for."""

    mentions: list[Mentioned]
    steps: list[Step]


def try_rule_in(desk: Desk, questionnaire_id: int, asked: TrialIn) -> Trial:
    """Try a rule out in the study of a questionnaire, whose kinds of unit it may speak of."""
    with desk.store.reading() as session:
        known = known_to(session, the_questionnaire(session, questionnaire_id))
    return try_rule(asked, replace(known, media=None))


def try_rule(asked: TrialIn, known: Known = NOTHING_KNOWN) -> Trial:
    """Try a rule out as if everything had been asked: conditions and checks of the lines themselves stay aside."""
    entries = build_outline(asked.script)
    place = next((e for e in entries if e.part.id == asked.part_id), None)
    if place is None:
        raise not_found("line")
    compiler = PartCompiler(asked.script, entries, known)
    for entry in entries:
        compiler.compile_entry(entry)
    named = dict.fromkeys(m.variable for m in mentions_in(asked.text, compiler.scope.inside(place.rosters)))
    found = [entries[compiler.symbols[name].index] for name in named]
    mentions = [
        Mentioned(
            variable=e.part.variable, kind=e.part.kind, code_list=e.part.code_list,
            rosters=[entries[r].part.variable for r in e.rosters],
        )
        for e in found
    ]  # fmt: skip
    rosters = {entries[r].part.variable for e in [*found, place] for r in e.rosters}
    rosters |= {e.part.variable for e in found if e.part.kind == "roster"}
    bare = compile_script(_bare(asked.script, asked.rows, rosters), known).release
    if bare is None:
        return Trial(mentions=mentions, steps=[])
    outline = build_outline(asked.script)
    scope = base_scope(asked.script, outline, symbols_of(asked.script, outline), known).inside(place.rosters)
    return Trial(mentions=mentions, steps=_steps(asked, bare, scope, (1,) * len(place.rosters)))


def _bare(script: Script, rows: dict[str, int], rosters: set[str]) -> Script:
    """The script without conditions, checks and limits, its rosters with as many rows as are asked for."""
    plain = script.model_copy(deep=True)
    for part in plain.parts:
        part.asked_when = part.code_filter = part.default = part.order = ""
        part.must_hold, part.should_hold, part.answer_needed, part.least, part.most = [], [], "", None, None
        # Rows that stand for codes or units come of the answers themselves.
        if part.variable in rosters and not part.repeated.startswith("for each"):
            part.repeated = f"{rows.get(part.variable, ROWS_TRIED)} times"
    return plain


def _steps(asked: TrialIn, release: dict[str, Any], scope: Scope, row: tuple[int, ...]) -> list[Step]:
    first = asked.script.languages[0]
    labels = {(e.name, c.code): c.label.get(first, c.code) for e in asked.script.code_lists for c in e.codes}
    engine = Engine(Release(release), answers=asked.answers)

    def show(kind: Type, value: Any) -> str:
        return show_value(engine, {"type": kind.name, "code_list": kind.code_list}, value)

    try:
        return explain_outcome(asked.text, scope, lambda a, b: labels.get((a, b), b), show, engine, row)
    except RuleSyntaxError:
        return []


def explain(desk: Desk, questionnaire_id: int, asked: ExplainIn) -> Explanation:
    """Raise Refused where the line is not there or the text is no rule."""
    with desk.store.reading() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        known = replace(known_to(session, questionnaire), media=None)
    script = read_script(questionnaire.script)
    entries = build_outline(script)
    entry = next((e for e in entries if e.part.id == asked.part_id), None)
    if entry is None:
        raise not_found("line")
    filtered = entry.part.code_list if asked.list_filtered else None
    scope = base_scope(script, entries, symbols_of(script, entries), known, filtered).inside(entry.rosters)
    first = script.languages[0]
    labels = {(e.name, c.code): c.label.get(first, c.code) for e in script.code_lists for c in e.codes}

    def label(code_list: str, code: str) -> str:
        return labels.get((code_list, code), code)

    try:
        words, canonical = explain_rule(asked.text, scope, label), format_rule(asked.text)
    except RuleSyntaxError as error:
        raise Refused(error.fault.code, f"{error.fault.message} {error.fault.mend}".strip()) from None
    compiled = compile_script(script, known).release
    if asked.answers is None or compiled is None or filtered:
        return Explanation(words=words, canonical=canonical, steps=[])
    engine = Engine(Release(compiled), answers=asked.answers)

    def show(kind: Type, value: Any) -> str:
        return show_value(engine, {"type": kind.name, "code_list": kind.code_list}, value)

    row = tuple(asked.row[: len(entry.rosters)])
    return Explanation(
        words=words, canonical=canonical, steps=explain_outcome(asked.text, scope, label, show, engine, row)
    )
