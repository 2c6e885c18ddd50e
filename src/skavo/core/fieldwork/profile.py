"""The field profile: how the phones of a team behave, set at the desk and obeyed by them at the next contact."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from skavo.core.errors import DataError

Language = Annotated[str, Field(min_length=2, max_length=35)]


class FieldProfile(BaseModel):
    """What a phone is told. Every setting has a value, so that an older profile lacks nothing.

    `page` is what stands on one page, `turning` how one gets to the next; `goes_on` turns it by itself after a single
    answer. `photo_pixels` is the longer side of a photo, `photo_quality` that of its JPEG, in percent. `sends` says
    when packed interviews are sent; `keeps` what stays on the phone once they have arrived, for `keeps_days` days.
    `languages` are those that interviews are led in, the first one to begin with; none for all of the questionnaire's.
    `pin` asks for a PIN, and `lock_minutes` without a touch lock the phone. A point is kept by itself once it is within
    `point_metres`. `map_sheets` are the maps that they hold, by identity. `help_name` and `help_phone` are whom to ring.
    """

    model_config = ConfigDict(extra="forbid")

    page: Literal["question", "section"] = "question"
    turning: Literal["buttons", "swipe", "both"] = "both"
    goes_on: bool = False
    photo_pixels: int = Field(default=1600, ge=320, le=8000)
    photo_quality: int = Field(default=80, ge=30, le=100)
    sends: Literal["any network", "unmetered", "by hand"] = "any network"
    keeps: Literal["nothing", "list", "all"] = "list"
    keeps_days: int = Field(default=14, ge=0, le=365)
    languages: list[Language] = Field(default=[], max_length=100)
    pin: bool = True
    lock_minutes: int = Field(default=5, ge=1, le=240)
    practice: bool = True
    point_metres: int = Field(default=12, ge=1, le=1000)
    map_sheets: list[Annotated[int, Field(ge=1, le=2**31)]] = Field(default=[], max_length=20)
    help_name: str = Field(default="", max_length=128)
    help_phone: str = Field(default="", max_length=40, pattern=r"^[0-9+()/ .-]*$")


def check_languages(profile: FieldProfile, spoken: set[str]) -> None:
    """Raise DataError where a profile asks for a language twice, or for one that no questionnaire is written in."""
    twice = sorted({tag for tag in profile.languages if profile.languages.count(tag) > 1})
    if twice:
        raise DataError("twice", f"{twice[0]} is named twice among the languages. Name it once.")
    unknown = [tag for tag in profile.languages if tag not in spoken]
    if unknown:
        known = ", ".join(sorted(spoken)) or "none yet"
        raise DataError(
            "unknown_language", f"No questionnaire of this study is written in {unknown[0]}; there is {known}."
        )


def check_sheets(profile: FieldProfile, sheets: set[int]) -> None:
    """Raise DataError where a profile names a map that the study does not have."""
    if not sheets.issuperset(profile.map_sheets):
        raise DataError("unknown_map", "A map of this profile was removed meanwhile. Choose the maps again.")
