"""The media shelf without a server: two people at once, a file gone from the disk, what releases keep."""

from __future__ import annotations

import io
from concurrent.futures import ThreadPoolExecutor

import pytest
from PIL import Image
from sqlalchemy import select

from skavo.core.errors import SkavoError
from skavo.core.questionnaire.script import read_script, write_script
from skavo.services import media
from skavo.services.desk import Desk
from skavo.services.drafts import show_draft
from skavo.services.media import SaidIn
from skavo.services.releases import make_release
from skavo.store.files import path_of_file
from skavo.store.models import Questionnaire, ShelfFile
from skavo.store.shelf import shelf_of
from tests.store.study import SmallStudy, small_study


def picture(shade: int = 0) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (40, 30), (shade, 90, 90)).save(out, "PNG")
    return out.getvalue()


def rows(study: SmallStudy) -> list[ShelfFile]:
    with study.store.reading() as session:
        return list(session.scalars(select(ShelfFile).order_by(ShelfFile.id)))


def test_two_who_bring_the_same_name_at_once_leave_one_on_the_shelf(desk: Desk, study: SmallStudy) -> None:
    with ThreadPoolExecutor(6) as pool:
        told = list(pool.map(lambda n: media.bring_in(desk, study.study_id, "a.png", picture(n)), range(12)))
    assert sum(len(t.added) for t in told) == 1 and sum(len(t.replaced) for t in told) == 11
    kept = rows(study)
    assert len(kept) == 12 and [row.removed_at is None for row in kept] == [False] * 11 + [True]


def test_shelves_of_two_studies_know_nothing_of_each_other(desk: Desk, study: SmallStudy) -> None:
    other = small_study(study.store)
    media.bring_in(desk, study.study_id, "a.png", picture(1))
    media.bring_in(desk, other.study_id, "a.png", picture(2))
    (mine,), (theirs,) = (media.show_shelf(desk, s.study_id).files for s in (study, other))
    assert (mine.name, theirs.name) == ("a.png", "a.png") and mine.id != theirs.id
    with study.store.reading() as session:
        digest = shelf_of(session, study.study_id)["a.png"].hash
    assert media.phone_content(desk, study.study_id, digest).content
    with pytest.raises(SkavoError, match="no such file"):
        media.phone_content(desk, other.study_id, digest)


def test_a_file_that_is_gone_from_the_disk_is_told_and_brought_in_anew(desk: Desk, study: SmallStudy) -> None:
    media.bring_in(desk, study.study_id, "a.png", picture())
    (row,) = rows(study)
    path_of_file(study.store.files, row.hash).unlink()
    with pytest.raises(SkavoError) as found:
        media.content_of(desk, row.id, as_on_phones=False)
    assert found.value.code == "file_missing" and "Restore it from a backup" in found.value.message
    assert media.bring_in(desk, study.study_id, "a.png", picture()).same == ["a.png"]
    assert media.content_of(desk, row.id, as_on_phones=False).content == picture()


def shows(study: SmallStudy, *names: str) -> None:
    """Let the first question of the draft show these files."""
    with study.store.session() as session:
        questionnaire = session.get_one(Questionnaire, study.questionnaire_id)
        script = read_script(questionnaire.script)
        script.parts[1].media = list(names)
        questionnaire.script = write_script(script)


def test_a_replaced_picture_makes_the_draft_another_one(desk: Desk, study: SmallStudy) -> None:
    media.bring_in(desk, study.study_id, "a.png", picture(1))
    shows(study, "a.png")
    draft = show_draft(desk, study.questionnaire_id)
    make_release(desk, study.questionnaire_id, draft.version, "")
    assert show_draft(desk, study.questionnaire_id).same_as_newest
    media.bring_in(desk, study.study_id, "b.png", picture(2))
    assert show_draft(desk, study.questionnaire_id).same_as_newest
    media.bring_in(desk, study.study_id, "a.png", picture(3))
    assert not show_draft(desk, study.questionnaire_id).same_as_newest


def test_what_is_said_of_a_picture_goes_to_phones_with_it(desk: Desk, study: SmallStudy) -> None:
    media.bring_in(desk, study.study_id, "a.png", picture())
    (row,) = rows(study)
    media.say(desk, row.id, SaidIn(said={"en": " A vice ", "fr": ""}, version=1))
    with study.store.reading() as session:
        assert shelf_of(session, study.study_id)["a.png"].said == {"en": "A vice"}


def test_files_that_no_language_answers_for_are_missing(desk: Desk, study: SmallStudy) -> None:
    media.bring_in(desk, study.study_id, "a.fr.png", picture())
    shows(study, "a.png", "b.png")
    shelf = media.show_shelf(desk, study.study_id)
    assert [(m.name, m.languages) for m in shelf.missing] == [("a.png", ["en"]), ("b.png", ["en"])]
    assert shelf.files[0].uses == []
