"""What takes long to make and is looked at again and again: the last few are kept in memory."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Generic, TypeVar

Value = TypeVar("Value")


class LastUsed(Generic[Value]):
    """The values that were asked for last, by key; made anew once they have been pushed out."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._kept: OrderedDict[Hashable, Value] = OrderedDict()
        self._lock = Lock()

    def get(self, key: Hashable, make: Callable[[], Value]) -> Value:
        """The value of a key; two who ask at once may both make it, which does no harm."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
        made = make()
        with self._lock:
            self._kept[key] = made
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)
        return made
