"""A module: some lines of a script with their lists, where they come from, what they measure, how they were tried."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field

from skavo.core.documents import Format
from skavo.core.questionnaire.graft import Fragment
from skavo.core.questionnaire.script import Script, ShortText, Texts

MODULE = Format("module")


class Module(BaseModel):
    """`name` tells it apart on its shelf. `measures`, `source` and `tested` are for whoever wonders whether to take it."""

    model_config = ConfigDict(extra="forbid")
    name: ShortText
    title: Texts
    measures: Texts = Field(default={})
    source: str = Field(default="", max_length=4000)
    tested: str = Field(default="", max_length=4000)
    fragment: Fragment


def script_of(module: Module) -> Script:
    """The module as a questionnaire of its own, to be checked, proved and rehearsed."""
    fragment = module.fragment
    return Script(
        name=module.name,
        title=module.title,
        languages=fragment.languages,
        parts=fragment.parts,
        code_lists=fragment.code_lists,
        unit_lists=fragment.unit_lists,
    )
