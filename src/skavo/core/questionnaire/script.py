"""The script: a questionnaire as it is written, before it is compiled.

A script is a flat list of parts with outline levels, as in the sheet and in the workbook: what is deeper than
the section or roster above it belongs to it. Texts are by language (BCP 47 tag). Rules are kept as typed.
"""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

Texts = dict[str, str]
ShortText = Annotated[str, Field(max_length=200)]
RuleText = Annotated[str, Field(max_length=4000)]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Check(_Strict):
    """A hard (must hold) or soft (should hold) check and what to say when it is broken."""

    rule: RuleText = ""
    message: Texts = Field(default={})


class Part(_Strict):
    """One line of the script. `id` lasts through renames and moves; `kind` is a name of interview/kinds.py."""

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
    must_hold: list[Check] = Field(default=[])
    should_hold: list[Check] = Field(default=[])
    answer_needed: RuleText = ""
    special_answers: list[ShortText] = Field(default=[])
    mask: ShortText = ""
    least: int | None = None
    most: int | None = None
    sensitive: bool = False
    remark: Annotated[str, Field(max_length=4000)] = ""


class Code(_Strict):
    """One code of a list. `specify` asks what "other" is; `exclusive` goes with no other code."""

    code: ShortText
    label: Texts = Field(default={})
    specify: bool = False
    exclusive: bool = False
    attributes: dict[str, str] = Field(default={})


class CodeList(_Strict):
    name: ShortText
    codes: list[Code] = Field(default=[])


class Script(_Strict):
    """A whole questionnaire. `name` is its short name; `languages` begins with the first language."""

    name: ShortText = "questionnaire"
    title: Texts = Field(default={})
    languages: list[ShortText] = Field(default=["en"], min_length=1)
    parts: list[Part] = Field(default=[])
    code_lists: list[CodeList] = Field(default=[])

    def list_named(self, name: str) -> CodeList | None:
        return next((entry for entry in self.code_lists if entry.name == name), None)
