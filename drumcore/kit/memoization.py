"""Remembering what was worked out for a large frozen value, by its identity: comparing or hashing it would cost more."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from functools import update_wrapper
from threading import Lock
from typing import Concatenate, ParamSpec, TypeVar

ValueT = TypeVar("ValueT")
ResultT = TypeVar("ResultT")
Key = ParamSpec("Key")


def remembered(
    limit: int,
) -> Callable[[Callable[Concatenate[ValueT, Key], ResultT]], Callable[Concatenate[ValueT, Key], ResultT]]:
    """Decorate a pure function of a frozen value (and hashable others) to keep its last `limit` results.

    The value is kept alive with its result, so that its identity stays its own.
    """

    def decorate(function: Callable[Concatenate[ValueT, Key], ResultT]) -> Callable[Concatenate[ValueT, Key], ResultT]:
        held: OrderedDict[Hashable, tuple[ValueT, ResultT]] = OrderedDict()
        lock = Lock()

        def wrapped(value: ValueT, /, *args: Key.args, **kwargs: Key.kwargs) -> ResultT:
            key = (id(value), args, tuple(kwargs.items()))
            known = held.get(key)
            if known is not None and known[0] is value:
                return known[1]
            result = function(value, *args, **kwargs)
            # Two threads may work the same out at once; only keeping it is one at a time.
            with lock:
                held[key] = (value, result)
                while len(held) > limit:
                    held.popitem(last=False)
            return result

        update_wrapper(wrapped, function)
        return wrapped

    return decorate
