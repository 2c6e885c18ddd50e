"""The Ostrel Isles: islands and wards. No such place exists."""

from __future__ import annotations

from dataclasses import dataclass

ISLANDS = {"kesk": "Kesk", "luma": "Luma", "tarrow": "Tarrow", "vint": "Vint"}


@dataclass(frozen=True)
class Ward:
    code: str
    name: str
    island: str


WARDS = [
    Ward("kesk_harbour", "Kesk Harbour", "kesk"),
    Ward("kesk_hill", "Kesk Hill", "kesk"),
    Ward("kesk_green", "Kesk Green", "kesk"),
    Ward("kesk_wall", "Kesk Wall", "kesk"),
    Ward("luma_mid", "Luma Mid", "luma"),
    Ward("luma_north", "Luma North", "luma"),
    Ward("luma_sound", "Luma Sound", "luma"),
    Ward("luma_mill", "Luma Mill", "luma"),
    Ward("tarrow_landing", "Tarrow Landing", "tarrow"),
    Ward("tarrow_fen", "Tarrow Fen", "tarrow"),
    Ward("tarrow_head", "Tarrow Head", "tarrow"),
    Ward("vint_quay", "Vint Quay", "vint"),
    Ward("vint_rise", "Vint Rise", "vint"),
    Ward("vint_cove", "Vint Cove", "vint"),
]
