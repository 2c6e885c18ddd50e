"""The field station at the desk: phones and what they are ordered to do, pairing codes, profiles."""

from __future__ import annotations

from pydantic import BaseModel, Field

from skavo.services import pairing, phones, profiles, rescue
from skavo.services.exercises import PractisedOut, show_practised
from skavo.services.pairing import OpenCodeOut, PairingIn, PairingOut
from skavo.services.phones import PhoneOut
from skavo.services.profiles import ProfileChange, ProfileIn, ProfileOut
from skavo.web.mail import public_address
from skavo.web.pages import field_build
from skavo.web.routing import Resource, desk
from skavo.web.shapes import Body, StudyPath

api = Resource("field")


class DevicePath(BaseModel):
    device_id: int


class CodesIn(Body):
    """`ids` are those of open codes."""

    ids: list[int] = Field(min_length=1, max_length=1000)


class LetInIn(Body):
    """`told` is what the phone shows and its holder has read out."""

    told: str = Field(min_length=1, max_length=20)


class ProfilePath(BaseModel):
    study_id: int
    profile_id: int


@api.route_for(
    "post", "/studies/<int:study_id>/pairing-codes", needs="field.manage", returns=list[PairingOut], status=201
)
def make_codes(path: StudyPath, body: PairingIn) -> list[PairingOut]:
    """One-time codes, one for each enumerator named; each is shown this once."""
    return pairing.make_codes(desk(), path.study_id, body, public_address())


@api.route_for("get", "/studies/<int:study_id>/pairing-codes", needs="field.manage", returns=list[OpenCodeOut])
def list_codes(path: StudyPath) -> list[OpenCodeOut]:
    """Codes that could still be used."""
    return pairing.open_codes(desk(), path.study_id)


@api.route_for(
    "post", "/studies/<int:study_id>/pairing-codes/withdrawal", needs="field.manage", returns=list[OpenCodeOut]
)
def withdraw_codes(path: StudyPath, body: CodesIn) -> list[OpenCodeOut]:
    """Take codes back before anybody uses them."""
    return pairing.withdraw_codes(desk(), path.study_id, body.ids)


@api.route_for("get", "/studies/<int:study_id>/devices", needs="field.read", returns=list[PhoneOut])
def devices(path: StudyPath) -> list[PhoneOut]:
    return phones.list_phones(desk(), path.study_id, field_build())


@api.route_for("get", "/studies/<int:study_id>/practised", needs="interview.read", returns=list[PractisedOut])
def practised(path: StudyPath) -> list[PractisedOut]:
    """Who has led which exercise, and how many answers were entered otherwise."""
    return show_practised(desk(), path.study_id)


@api.route_for("post", "/devices/<int:device_id>/cut-off", needs="field.manage", returns=PhoneOut)
def cut_off(path: DevicePath) -> PhoneOut:
    """A lost device may do nothing any more; what it handed in stays."""
    return phones.cut_off(desk(), path.device_id, field_build())


@api.route_for("delete", "/devices/<int:device_id>/cut-off", needs="field.manage", returns=PhoneOut)
def give_back(path: DevicePath) -> PhoneOut:
    """Let a device that was cut off do its work again."""
    return phones.give_back(desk(), path.device_id, field_build())


@api.route_for("post", "/devices/<int:device_id>/wipe", needs="field.manage", returns=PhoneOut)
def wipe(path: DevicePath) -> PhoneOut:
    """Let a device forget everything at its next contact."""
    return phones.order_wipe(desk(), path.device_id, field_build())


@api.route_for("delete", "/devices/<int:device_id>/wipe", needs="field.manage", returns=PhoneOut)
def take_back_wipe(path: DevicePath) -> PhoneOut:
    """Take the order back, where the device has not been heard of since."""
    return phones.take_back_wipe(desk(), path.device_id, field_build())


@api.route_for("post", "/devices/<int:device_id>/letting-in", needs="field.manage")
def let_in(path: DevicePath, body: LetInIn) -> None:
    """Let a device in whose PIN was forgotten."""
    rescue.let_in(desk(), path.device_id, body.told)


@api.route_for("get", "/studies/<int:study_id>/field-profiles", needs="field.read", returns=list[ProfileOut])
def list_profiles(path: StudyPath) -> list[ProfileOut]:
    return profiles.list_profiles(desk(), path.study_id)


@api.route_for(
    "post", "/studies/<int:study_id>/field-profiles", needs="field.manage", returns=list[ProfileOut], status=201
)
def make_profile(path: StudyPath, body: ProfileIn) -> list[ProfileOut]:
    return profiles.make_profile(desk(), path.study_id, body)


@api.route_for(
    "put", "/studies/<int:study_id>/field-profiles/<int:profile_id>", needs="field.manage", returns=list[ProfileOut]
)
def change_profile(path: ProfilePath, body: ProfileChange) -> list[ProfileOut]:
    """What its phones obey from their next contact on."""
    return profiles.change_profile(desk(), path.study_id, path.profile_id, body)


@api.route_for(
    "delete", "/studies/<int:study_id>/field-profiles/<int:profile_id>", needs="field.manage", returns=list[ProfileOut]
)
def remove_profile(path: ProfilePath) -> list[ProfileOut]:
    """Its teams obey the ordinary one again."""
    return profiles.remove_profile(desk(), path.study_id, path.profile_id)
