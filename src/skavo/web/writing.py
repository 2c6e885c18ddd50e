"""What the script sheet asks for while a script is written: renaming, lines from elsewhere, proposals, pasted cells."""

from __future__ import annotations

from flask import current_app
from pydantic import Field

from skavo.core.questionnaire.graft import Fragment
from skavo.core.questionnaire.propose import Around, Proposal
from skavo.core.questionnaire.script import Script
from skavo.services import writing
from skavo.services.presence import PresenceOut, tell_presence
from skavo.services.writing import GraftedOut, NewLine, PastedOut, RenamedOut
from skavo.web.routing import Resource, desk
from skavo.web.shapes import Body, QuestionnairePath

api = Resource("writing")


class RenamingIn(Body):
    """`names` leads from the identity of a part to its new variable."""

    script: Script
    names: dict[str, str] = Field(min_length=1, max_length=5_000)


class GraftIn(Body):
    """`at` is the line that the fragment is put in before; `prefix` goes before variables that are taken."""

    script: Script
    fragment: Fragment
    at: int = Field(ge=0)
    level: int = Field(default=1, ge=1, le=12)
    prefix: str = Field(default="", max_length=12, pattern=r"^([a-z][a-z0-9_]*)?$")


class ProposalsIn(Body):
    """`languages` are those of the script, the first one first; `taken` its variables, `lists` its code lists."""

    languages: list[str] = Field(min_length=1, max_length=40)
    taken: list[str] = Field(default=[], max_length=20_000)
    lists: list[str] = Field(default=[], max_length=20_000)
    lines: list[NewLine] = Field(max_length=5_000)


class CellsIn(Body):
    """`headings` say what the columns are; left out, that is found out from the cells."""

    script: Script
    rows: list[list[str]] = Field(min_length=1)
    headings: list[str] = Field(default=[], max_length=500)


class PresenceIn(Body):
    """`tab` tells the pages of one person apart; `part_id` is None where the page is being left."""

    tab: str = Field(min_length=8, max_length=64)
    part_id: str | None = Field(max_length=200)


@api.route_for("post", "/questionnaires/<int:questionnaire_id>/presence", needs="script.read", returns=PresenceOut)
def presence(path: QuestionnairePath, body: PresenceIn) -> PresenceOut:
    held = current_app.extensions["skavo_presence"]
    return tell_presence(desk(), held, path.questionnaire_id, body.tab, body.part_id)


@api.route_for("post", "/questionnaires/<int:questionnaire_id>/renaming", needs="script.write", returns=RenamedOut)
def rename(path: QuestionnairePath, body: RenamingIn) -> RenamedOut:
    return writing.renamed(body.script, body.names)


@api.route_for("post", "/questionnaires/<int:questionnaire_id>/graft", needs="script.write", returns=GraftedOut)
def put_in(path: QuestionnairePath, body: GraftIn) -> GraftedOut:
    return writing.grafted(body.script, body.fragment, body.at, body.level, body.prefix)


@api.route_for("post", "/questionnaires/<int:questionnaire_id>/proposals", needs="script.write", returns=list[Proposal])
def propose(path: QuestionnairePath, body: ProposalsIn) -> list[Proposal]:
    return writing.proposals(Around(body.languages, body.taken, body.lists), body.lines)


@api.route_for("post", "/questionnaires/<int:questionnaire_id>/cells", needs="script.write", returns=PastedOut)
def paste(path: QuestionnairePath, body: CellsIn) -> PastedOut:
    return writing.pasted(body.script, body.rows, body.headings)
