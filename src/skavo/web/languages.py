"""Languages of a questionnaire: the translator's sheet out and in, translations confirmed."""

from __future__ import annotations

from flask import Response, request
from pydantic import BaseModel, ConfigDict, Field

from skavo.core.languages.outdated import Outdated
from skavo.services import languages
from skavo.services.languages import PhoneWord, TranslationOut
from skavo.web.routing import Resource, attachment, desk
from skavo.web.shapes import Body, QuestionnairePath

api = Resource("languages")
_BASE = "/questionnaires/<int:questionnaire_id>/translation"


class LanguageQuery(BaseModel):
    """`language` is the one that is translated into."""

    model_config = ConfigDict(extra="forbid")
    language: str = Field(min_length=1, max_length=40)


class TranslationFileQuery(LanguageQuery):
    """`name` is the file's name."""

    name: str = Field(min_length=1, max_length=200)


class ConfirmedIn(Body):
    """`keys` are those of texts that are right still."""

    language: str = Field(min_length=1, max_length=40)
    keys: list[str] = Field(min_length=1, max_length=100_000)


class OutdatedOut(BaseModel):
    outdated: Outdated


@api.route_for("get", "/phone-words", needs="signed-in", returns=list[PhoneWord])
def words() -> list[PhoneWord]:
    return languages.list_phone_words()


@api.route_for("get", _BASE, needs="script.read")
def take_out(path: QuestionnairePath, query: LanguageQuery) -> Response:
    made = languages.take_out(desk(), path.questionnaire_id, query.language)
    return Response(made.content, mimetype=made.type, headers=attachment(made.name))


@api.route_for("post", _BASE, needs="script.write", returns=TranslationOut)
def bring_back(path: QuestionnairePath, query: TranslationFileQuery) -> TranslationOut:
    """Read a translator's sheet sent as the body; nothing is replaced until its script is saved."""
    content = request.get_data(cache=False)
    return languages.bring_back(desk(), path.questionnaire_id, query.language, query.name, content)


@api.route_for("post", f"{_BASE}/confirmed", needs="script.write", returns=OutdatedOut)
def confirm(path: QuestionnairePath, body: ConfirmedIn) -> OutdatedOut:
    return OutdatedOut(outdated=languages.confirm_texts(desk(), path.questionnaire_id, body.language, body.keys))
