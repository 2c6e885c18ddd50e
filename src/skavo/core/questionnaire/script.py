"""The script: a questionnaire as it is written, before it is compiled.

A script is a flat list of parts with outline levels, as in the sheet and in the workbook: what is deeper than
the section or roster above it belongs to it. Texts are by language (BCP 47 tag). Rules are kept as typed.
"""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field

from skavo.core.documents import Format

Texts = dict[str, str]
MOST_SHORT, MOST_RULE = 200, 4000
ShortText = Annotated[str, Field(max_length=MOST_SHORT)]
RuleText = Annotated[str, Field(max_length=MOST_RULE)]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid")


class ScriptCheck(_Strict):
    """A hard (must hold) or soft (should hold) check and what to say when it is broken."""

    rule: RuleText = ""
    message: Texts = Field(default={})


class Part(_Strict):
    """One line of the script. `id` lasts through renames and moves; `kind` is a name of interview/kinds.py.

    `unit` is a unit list or a single unit; `least` and `most` limit a number (a quantity in base units), the length
    of a text, or how many codes; `fills` is the field of a unit that the answer becomes once the interview is accepted; `order` is fixed or random; `media` are names of files shown beside the wording;
    `origin` names the module and its line that this one was taken from, `people/age`.
    """

    id: ShortText
    level: int = Field(default=1, ge=1, le=12)
    kind: ShortText = "text"
    variable: ShortText = ""
    wording: Texts = Field(default={})
    instruction: Texts = Field(default={})
    code_list: ShortText = ""
    code_filter: RuleText = ""
    asked_when: RuleText = ""
    repeated: RuleText = ""
    derived: RuleText = ""
    default: RuleText = ""
    must_hold: list[ScriptCheck] = Field(default=[])
    should_hold: list[ScriptCheck] = Field(default=[])
    answer_needed: RuleText = ""
    special_answers: list[ShortText] = Field(default=[])
    mask: ShortText = ""
    unit: ShortText = ""
    least: int | float | None = None
    most: int | float | None = None
    reads_back: ShortText = ""
    register_name: ShortText = ""
    fills: RuleText = ""
    sensitive: bool = False
    read_aloud: bool = True
    order: ShortText = ""
    media: list[ShortText] = Field(default=[])
    remark: RuleText = ""
    origin: Annotated[str, Field(max_length=2 * MOST_SHORT + 1)] = ""


class Code(_Strict):
    """One code of a list. `specify` asks what "other" is; `exclusive` goes with no other code."""

    code: ShortText
    label: Texts = Field(default={})
    specify: bool = False
    exclusive: bool = False
    media: list[ShortText] = Field(default=[])
    attributes: dict[str, str] = Field(default={})


class ListTable(_Strict):
    """The outside table that a list comes from, by name, and which of its columns give what; labels by language."""

    name: ShortText
    code: ShortText
    labels: dict[str, ShortText] = Field(default={})
    attributes: list[ShortText] = Field(default=[], max_length=50)


class CodeList(_Strict):
    """`source` says in words who made the list: a standard, an office; `table` is where it is brought up to date from."""

    name: ShortText
    codes: list[Code] = Field(default=[])
    source: Annotated[str, Field(max_length=500)] = ""
    table: ListTable | None = None


class UnitOfMeasure(_Strict):
    """One unit of a list. `factor` says how many base units of the dimension it is: a number or a rule."""

    unit: ShortText
    dimension: ShortText = ""
    factor: RuleText = "1"
    label: Texts = Field(default={})


class UnitList(_Strict):
    name: ShortText
    units: list[UnitOfMeasure] = Field(default=[])


class NotedByPhone(_Strict):
    """What the phone notes of itself about each interview, besides when it began and ended, by whom and with what.

    `place` is where it began; `timing` when each question was seen and answered. `told_by` is the identity of the
    statement that tells respondents.
    """

    device: bool = True
    place: bool = False
    timing: bool = True
    told_by: ShortText = ""


class Script(_Strict):
    """A whole questionnaire. `name` is its short name; `languages` begins with the first language.

    `phone_words` are the words of the phone's own buttons and messages, by language and key (languages/texts.py), in
    languages that Skavo has none in.
    """

    name: ShortText = "questionnaire"
    title: Texts = Field(default={})
    languages: list[ShortText] = Field(default=["en"], min_length=1)
    parts: list[Part] = Field(default=[])
    code_lists: list[CodeList] = Field(default=[])
    unit_lists: list[UnitList] = Field(default=[])
    phone_words: dict[str, Texts] = Field(default={})
    paradata: NotedByPhone = Field(default=NotedByPhone())

    def list_named(self, name: str) -> CodeList | None:
        return next((entry for entry in self.code_lists if entry.name == name), None)

    def units_named(self, name: str) -> UnitList | None:
        return next((entry for entry in self.unit_lists if entry.name == name), None)


def _with_origin(document: dict[str, Any]) -> dict[str, Any]:
    return {**document, "parts": [{**part, "origin": ""} for part in document.get("parts", [])]}


def _with_source(document: dict[str, Any]) -> dict[str, Any]:
    lists = [{**entry, "source": "", "table": None} for entry in document.get("code_lists", [])]
    return {**document, "code_lists": lists, "phone_words": {}, "paradata": {}}


def _with_fills(document: dict[str, Any]) -> dict[str, Any]:
    return {**document, "parts": [{**part, "fills": ""} for part in document.get("parts", [])]}


SCRIPT = Format("script", (_with_origin, _with_source, _with_fills), unmarked=1)


def read_script(document: dict[str, Any]) -> Script:
    """A script as it was kept, of any version."""
    return Script.model_validate(SCRIPT.read_body(document))


def write_script(script: Script) -> dict[str, Any]:
    """A script as it is kept."""
    return SCRIPT.write(script.model_dump(mode="json"))
