"""The field profile: every setting has a value, and what no phone could do is refused."""

from __future__ import annotations

import pytest
from pydantic import ValidationError

from skavo.core.errors import DataError
from skavo.core.fieldwork.profile import FieldProfile, check_languages


def test_an_empty_one_is_how_a_study_begins() -> None:
    profile = FieldProfile.model_validate({})
    assert (profile.page, profile.turning, profile.sends, profile.keeps) == ("question", "both", "any network", "list")
    # Common practice: a position within about 12 m is good enough to keep.
    assert (profile.pin, profile.point_metres) == (True, 12)


@pytest.mark.parametrize(
    "wrong",
    [
        {"page": "screen"}, {"photo_pixels": 100}, {"photo_quality": 0}, {"keeps_days": -1}, {"lock_minutes": 0},
        {"help_phone": "javascript:alert(1)"}, {"colour": "red"}, {"point_metres": 0},
    ],
)  # fmt: skip
def test_what_no_phone_could_do_is_refused(wrong: dict[str, object]) -> None:
    with pytest.raises(ValidationError):
        FieldProfile.model_validate(wrong)


def test_languages_are_those_of_questionnaires_and_named_once() -> None:
    check_languages(FieldProfile(languages=["fr", "en"]), {"en", "fr", "ar"})
    with pytest.raises(DataError, match="fr is named twice"):
        check_languages(FieldProfile(languages=["fr", "en", "fr"]), {"en", "fr"})
    with pytest.raises(DataError, match="written in sw; there is en, fr"):
        check_languages(FieldProfile(languages=["sw"]), {"fr", "en"})
