"""The table that maps each kind of edit to the one function that makes it."""

from collections.abc import Callable, Iterator
from typing import Any, TypeVar

from drumcore.kit.values import Kit
from drumcore.value import Value

EditT = TypeVar("EditT", bound=Value)
Meaning = Callable[[Kit, Any], Kit]


class Meanings:
    """The functions of some kinds of edits. Each kind has one function, which takes only that kind."""

    def __init__(self, *parts: "Meanings") -> None:
        self._table: dict[type[Value], Meaning] = {}
        for part in parts:
            for kind, meaning in part._table.items():
                self.add(kind, meaning)

    def add(self, kind: type[EditT], meaning: Callable[[Kit, EditT], Kit]) -> None:
        assert kind not in self._table, f"{kind.__name__} has a meaning already"
        self._table[kind] = meaning

    def __getitem__(self, kind: type[Value]) -> Meaning:
        return self._table[kind]

    def __iter__(self) -> Iterator[type[Value]]:
        return iter(self._table)
