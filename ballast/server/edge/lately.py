"""What a process has at hand of late, so many of them: whoever comes next is spared working it out again."""

from collections import OrderedDict
from collections.abc import Hashable
from threading import Lock
from typing import Generic, TypeVar

Value = TypeVar("Value")


class Lately(Generic[Value]):
    """The `most` that were kept last, by their keys."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._there: OrderedDict[Hashable, Value] = OrderedDict()
        self._lock = Lock()

    def get(self, key: Hashable) -> Value | None:
        return self._there.get(key)

    def keep(self, key: Hashable, value: Value) -> None:
        with self._lock:
            self._there[key] = value
            self._there.move_to_end(key)
            if len(self._there) > self._most:
                self._there.popitem(last=False)

    def forget(self) -> None:
        with self._lock:
            self._there.clear()
