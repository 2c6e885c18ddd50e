"""Links at the desk: made, changed, closed, and the people they are sent to."""

from __future__ import annotations

from flask import request
from pydantic import BaseModel, ConfigDict, Field

from skavo.core.fieldwork.links import LinkTexts, default_texts
from skavo.formats.read_table import read_table
from skavo.services import addressees, links
from skavo.services.addressees import AddresseeRow, Addressees, AddresseesQuery, LettersIn
from skavo.services.jobs import JobOut
from skavo.services.links import LinkChange, LinkIn, LinkOut
from skavo.web.mail import public_address
from skavo.web.routing import Resource, desk
from skavo.web.shapes import StudyPath

api = Resource("links")


class LinkPath(BaseModel):
    link_id: int


class AddresseePath(LinkPath):
    addressee_id: int


class FileQuery(BaseModel):
    """`name` is that of the file; `keep` takes in what is new instead of only telling it."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=200)
    keep: bool = False


class ReadyQuery(BaseModel):
    model_config = ConfigDict(extra="forbid")
    language: str = Field(min_length=2, max_length=35)


class AddresseesFile(BaseModel):
    rows: list[AddresseeRow]
    kept: int


@api.route_for("get", "/studies/<int:study_id>/links", needs="field.read", returns=list[LinkOut])
def list_links(path: StudyPath) -> list[LinkOut]:
    return links.list_links(desk(), path.study_id, public_address())


@api.route_for("post", "/studies/<int:study_id>/links", needs="field.manage", returns=LinkOut, status=201)
def make_link(path: StudyPath, body: LinkIn) -> LinkOut:
    return links.make_link(desk(), path.study_id, body, public_address())


@api.route_for("get", "/studies/<int:study_id>/ready-link-texts", needs="field.read", returns=LinkTexts)
def ready_texts(path: StudyPath, query: ReadyQuery) -> LinkTexts:
    """What a link says in a language where nobody has written anything."""
    return default_texts(query.language)


@api.route_for("put", "/links/<int:link_id>", needs="field.manage", returns=LinkOut)
def change_link(path: LinkPath, body: LinkChange) -> LinkOut:
    return links.change_link(desk(), path.link_id, body, public_address())


@api.route_for("post", "/links/<int:link_id>/closing", needs="field.manage", returns=LinkOut)
def close_link(path: LinkPath) -> LinkOut:
    """Nobody begins with it any more; whoever has begun may still finish."""
    return links.close_link(desk(), path.link_id, public_address())


@api.route_for("delete", "/links/<int:link_id>/closing", needs="field.manage", returns=LinkOut)
def reopen_link(path: LinkPath) -> LinkOut:
    return links.reopen_link(desk(), path.link_id, public_address())


@api.route_for("get", "/links/<int:link_id>/addressees", needs="field.manage", returns=Addressees)
def list_addressees(path: LinkPath, query: AddresseesQuery) -> Addressees:
    return addressees.list_addressees(desk(), path.link_id, query, public_address())


@api.route_for("post", "/links/<int:link_id>/addressees/file", needs="field.manage", returns=AddresseesFile)
def bring_in(path: LinkPath, query: FileQuery) -> AddresseesFile:
    """Addressees from a .csv or .xlsx file sent as the body: what is new, known or doubtful; nothing is kept unasked."""
    frame = read_table(query.name, request.get_data(cache=False))
    if not query.keep:
        return AddresseesFile(rows=addressees.judge_addressees(desk(), path.link_id, frame), kept=0)
    rows, kept = addressees.bring_in_addressees(desk(), path.link_id, frame)
    return AddresseesFile(rows=rows, kept=kept)


@api.route_for("post", "/links/<int:link_id>/addressees/<int:addressee_id>/withdrawal", needs="field.manage")
def withdraw(path: AddresseePath) -> None:
    """Somebody who does not want to be asked."""
    addressees.withdraw_addressee(desk(), path.addressee_id, back=False)


@api.route_for("delete", "/links/<int:link_id>/addressees/<int:addressee_id>/withdrawal", needs="field.manage")
def take_back_withdrawal(path: AddresseePath) -> None:
    addressees.withdraw_addressee(desk(), path.addressee_id, back=True)


@api.route_for("post", "/links/<int:link_id>/letters", needs="field.manage", returns=JobOut, status=202)
def order_letters(path: LinkPath, body: LettersIn) -> JobOut:
    """Write to addressees, in the background."""
    return addressees.order_letters(desk(), path.link_id, body, public_address())
