"""Figures that are carried upward, as a map tells units apart by them: in classes, from the least to the most."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from skavo.core.register.settings import Carried
from skavo.services.branches import place_seen
from skavo.services.units import field_words
from skavo.store.models import now
from skavo.store.registers import KindHere, Register

_CLASSES = 5


@dataclass(frozen=True)
class Figure:
    """A field of a kind below, and how it is carried upward; `value` names it in addresses."""

    value: str
    label: str
    kind: KindHere
    carried: Carried


@dataclass(frozen=True)
class Classes:
    """For each unit the class that it is in, "" where it has no figure; what each class is called."""

    values: list[str]
    labels: dict[str, str]


def figures_from_below(register: Register, kind: KindHere, hidden: frozenset[str]) -> Iterator[Figure]:
    """What is carried up to units of a kind from other kinds."""
    for other in register.kinds.values():
        for carried in other.settings.carried if other.id != kind.id else ():
            if carried.part_id not in hidden and carried.part_id in other.form.by_id:
                words = field_words(other.form, carried.part_id)
                label = f"{words} ({carried.how}, {other.title})"
                yield Figure(f"carried/{other.id}/{carried.how}/{carried.part_id}", label, other, carried)


def classed(register: Register, figure: Figure, places: Sequence[int]) -> Classes:
    """Units in up to five classes of about the same size; of a single answer each code is a class of its own."""
    figures = register.carried(figure.kind, figure.carried)[[*places]] if len(places) else np.empty(0)
    known = figures[~np.isnan(figures)]
    part = figure.kind.form.by_id[figure.carried.part_id]
    if part.raw["type"] == "code" or len(np.unique(known)) <= _CLASSES:
        said = [register.carried_said(figure.kind, figure.carried, place) for place in places]
        steps = {float(step): f"{number:02}" for number, step in enumerate(np.unique(known))}
        values = [steps.get(float(one), "") for one in figures]
        at = now().astimezone()
        words = {v: figure.kind.form.words(part, raw, at) or str(raw) for v, raw in zip(values, said, strict=True) if v}
        return Classes(values, words)
    return in_classes(figures, part.raw.get("base_unit", ""))


def in_classes(figures: np.ndarray, unit: str = "") -> Classes:
    """Figures, NaN for none, in up to five classes of about the same size; of few different ones each is a class."""
    different = np.unique(figures[~np.isnan(figures)])
    if len(different) <= _CLASSES:
        names = {float(figure): f"{number:02}" for number, figure in enumerate(different)}
        labels = {name: f"{_said(figure)} {unit}".strip() for figure, name in names.items()}
        return Classes([names.get(float(figure), "") for figure in figures], labels)
    edges = np.unique(np.quantile(figures[~np.isnan(figures)], np.linspace(0, 1, _CLASSES + 1)))
    classes = np.clip(np.searchsorted(edges, figures, side="right") - 1, 0, len(edges) - 2)
    values = ["" if np.isnan(one) else f"{int(number):02}" for one, number in zip(figures, classes, strict=True)]
    labels = {
        f"{number:02}": f"{_said(edges[number])} – {_said(edges[number + 1])} {unit}".strip()
        for number in range(len(edges) - 1)
    }
    return Classes(values, labels)


def _said(figure: float) -> str:
    return f"{figure:,.0f}" if abs(figure) >= 100 or figure == int(figure) else f"{figure:,.2f}"


def place_among(register: Register, at: int, hidden: frozenset[str]) -> tuple[float, float] | None:
    """Where a unit lies as it may be told; where it has no place of its own, in the middle of what lies below it."""
    unit = register.units[at]
    own = place_seen(register.kinds[unit.kind_id], unit, hidden)
    if own is not None or unit.latitude is not None:
        return own
    below = [register.units[place] for place in range(at + 1, int(register.tree.ends[at]))]
    places = [
        place
        for one in below
        if one.closed_at is None and (place := place_seen(register.kinds[one.kind_id], one, hidden)) is not None
    ]
    if not places:
        return None
    first = places[0][1]
    # The date line may lie between them.
    east = sum((place[1] - first + 540) % 360 - 180 for place in places) / len(places)
    return sum(place[0] for place in places) / len(places), (first + east + 540) % 360 - 180
