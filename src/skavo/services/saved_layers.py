"""Maps kept under a name, for the map and for the logbook."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import select

from skavo.services.desk import Desk
from skavo.services.found import the_study
from skavo.services.ground import GroundQuery
from skavo.services.refusals import Refused, not_found
from skavo.store.models import SavedLayer

_MOST = 30


class LayerIn(BaseModel):
    """`off` are the values of the groups that are switched off."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=64, pattern=r"\S")
    query: GroundQuery
    off: list[str] = Field(default=[], max_length=50)


class LayerOut(BaseModel):
    id: int
    name: str
    query: GroundQuery
    off: list[str]
    by: str


def list_layers(desk: Desk, study_id: int) -> list[LayerOut]:
    """The maps that were kept, in the order in which they were."""
    with desk.store.reading() as session:
        the_study(session, study_id)
        kept = session.scalars(select(SavedLayer).where(SavedLayer.study_id == study_id).order_by(SavedLayer.id))
        return [
            LayerOut(
                id=one.id, name=one.name, query=GroundQuery.model_validate(one.query), off=one.off, by=one.created_by
            )
            for one in kept
        ]


def keep_layer(desk: Desk, study_id: int, wanted: LayerIn) -> list[LayerOut]:
    """Keep a map under a name; the same name again takes the place of what was there."""
    name = wanted.name.strip()
    with desk.store.session() as session:
        the_study(session, study_id)
        kept = session.scalars(select(SavedLayer).where(SavedLayer.study_id == study_id)).all()
        # SQLite knows no capital letters but those of English.
        same = next((one for one in kept if one.name.casefold() == name.casefold()), None)
        if same is not None:
            same.query, same.off = wanted.query.model_dump(mode="json"), wanted.off
        elif len(kept) >= _MOST:
            raise Refused("too_many", f"{_MOST} maps are kept already. Remove one that nobody looks at.")
        else:
            session.add(
                SavedLayer(
                    study_id=study_id, name=name, query=wanted.query.model_dump(mode="json"), off=wanted.off,
                    **desk.signed(),
                )
            )  # fmt: skip
    return list_layers(desk, study_id)


def remove_layer(desk: Desk, layer_id: int) -> list[LayerOut]:
    with desk.store.session() as session:
        found = session.get(SavedLayer, layer_id)
        if found is None:
            raise not_found("map")
        study_id = found.study_id
        session.delete(found)
    return list_layers(desk, study_id)
