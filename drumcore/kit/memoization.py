"""Caches results for large frozen values by identity, because hashing or comparing them would cost more than the
result.
"""

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
    """Decorates a pure function of a frozen value (and further hashable arguments) to keep its last `limit` results.
    The value is kept alive with its result, so that its identity cannot be reused.
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
            # Two threads may compute the same result at once; only storing it is locked.
            with lock:
                held[key] = (value, result)
                while len(held) > limit:
                    held.popitem(last=False)
            return result

        update_wrapper(wrapped, function)
        return wrapped

    return decorate
