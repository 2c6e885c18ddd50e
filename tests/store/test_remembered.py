"""What was made lately is not made again; what nobody asked for longest is forgotten first."""

from __future__ import annotations

from skavo.store.remembered import Remembered


def test_the_latest_are_kept() -> None:
    made: list[str] = []

    def make(name: str) -> str:
        made.append(name)
        return name.upper()

    kept = Remembered(2)
    for name in ("a", "b", "a", "c", "a", "b"):
        assert kept.get((name,), lambda name=name: make(name)) == name.upper()
    assert made == ["a", "b", "c", "b"]
