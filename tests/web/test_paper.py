"""The questionnaire on paper through the HTTP interface: the draft, a release, a language; what cannot be printed."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pypdfium2

from tests.web.conftest import Desk
from tests.web.test_rules import line, saved

AT = "/api/questionnaires/1/papers"


def printed(app: Any, person: Desk, **wanted: Any) -> tuple[str, str]:
    """The name of the file and its words."""
    job = person.answer("POST", AT, {"language": "en", **wanted})
    app.extensions["skavo_jobs"].run(job["id"])
    done = person.answer("GET", f"/api/jobs/{job['id']}")
    assert done["state"] == "done", done["problem"]
    pages = pypdfium2.PdfDocument(person.call("GET", f"/api/jobs/{job['id']}/file").data)
    return done["result"]["name"], " ".join(page.get_textpage().get_text_bounded() for page in pages)


def test_draft_and_release_are_printed_each_as_it_is(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("analyst")
    saved(desk("data_manager"), lambda s: line(s, "consent").wording.update(en="Shall we begin?"))
    name, words = printed(app, person)
    assert name.endswith("-draft-en.pdf") and "Shall we begin?" in words
    name, words = printed(app, person, release=1, language="fr")
    assert name.endswith("-release-1-fr.pdf")
    assert "Puis-je vous poser quelques questions" in words and "version 1" in words


def test_what_cannot_be_printed_is_said(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    assert person.problem("POST", AT, {"language": "sw"})[1] == "unknown_language"
    assert person.problem("POST", AT, {"language": "en", "release": 9})[0] == 404
    assert person.problem("POST", AT, {"language": "en", "rows": 0})[0] == 422
    saved(person, lambda s: setattr(line(s, "paid"), "asked_when", "wrokers > 2"))
    assert person.problem("POST", AT, {"language": "en"})[1] == "has_errors"
    assert "release 1" in printed(app, person, release=1)[1]
