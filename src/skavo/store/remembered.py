"""What was made lately, kept in memory for whoever asks for the same next."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable
from typing import Any


class Remembered:
    """The `most` things asked for last, by whatever each depends on."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._kept: OrderedDict[tuple[Any, ...], Any] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: tuple[Any, ...], make: Callable[[], Any]) -> Any:
        """What was made for `key` before; made now, and kept for a while, otherwise. Two at once may both make it."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
        found = make()
        with self._lock:
            self._kept[key] = found
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)
        return found
