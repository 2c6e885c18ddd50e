"""Languages of a questionnaire: out to a translator and back, translations found to be right still."""

from __future__ import annotations

from pydantic import BaseModel

from skavo.core.languages.outdated import Outdated, confirm
from skavo.core.languages.take import Judged, take_texts
from skavo.core.languages.texts import phone_words
from skavo.core.questionnaire.script import Script, Texts, read_script
from skavo.formats.translations import read_translation, write_translation
from skavo.services.desk import Desk
from skavo.services.file_made import XLSX, FileMade
from skavo.services.found import the_questionnaire
from skavo.services.refusals import not_found


class PhoneWord(BaseModel):
    """A word of the phone in the languages it speaks by itself."""

    key: str
    texts: Texts


class TranslationOut(BaseModel):
    """A translator's texts that were read but not yet taken."""

    script: Script
    changed: list[Judged]
    doubtful: list[Judged]
    left_empty: int
    same: int


def list_phone_words() -> list[PhoneWord]:
    return [PhoneWord(key=key, texts=texts) for key, texts in phone_words().items()]


def take_out(desk: Desk, questionnaire_id: int, language: str) -> FileMade:
    """The sheet for a translator into one language of the questionnaire."""
    with desk.store.reading() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
    script = read_script(questionnaire.script)
    if language not in script.languages[1:]:
        raise not_found("language to translate into")
    return FileMade(f"{script.name}-{language}.xlsx", XLSX, write_translation(script, language, questionnaire.outdated))


def bring_back(desk: Desk, questionnaire_id: int, language: str, file_name: str, content: bytes) -> TranslationOut:
    """Read what a translator wrote; nothing is replaced until its script is saved."""
    with desk.store.reading() as session:
        script = read_script(the_questionnaire(session, questionnaire_id).script)
    if language not in script.languages[1:]:
        raise not_found("language to translate into")
    taken = take_texts(script, language, read_translation(file_name, content, script, language))
    return TranslationOut(**vars(taken))


def confirm_texts(desk: Desk, questionnaire_id: int, language: str, keys: list[str]) -> Outdated:
    """Translations are right although their source has changed; what is left out of date."""
    with desk.store.session() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        questionnaire.outdated = confirm(questionnaire.outdated, language, keys)
        return questionnaire.outdated
