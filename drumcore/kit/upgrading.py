"""Kits of older formats brought up to today's, with a sentence where they will sound different."""

from collections.abc import Callable
from typing import Any

DYNAMICS, GATHERING = 4, 5
GATHERED = {"overheads": "overhead", "room": "room", "other-microphones": "other"}
NEW_DYNAMICS = (
    "This kit was kept by an earlier version. Its strokes now follow one target through their layers, so that a harder "
    "strike is never softer: some velocities sound a little louder or softer than they did."
)


def upgraded(raw: dict[str, Any]) -> tuple[dict[str, Any], tuple[str, ...]]:
    """A kit as read from JSON, in today's format; and what is worth knowing of the difference.

    Formats 2 and 3 only added fields, each with the value that means what was done without it. Format 4 has the rule
    of `layers.dynamics`, in which more than 100 % inside layers counts as 100 %, and no solo: that is listening. Format 5
    says of a channel that it gathers a kind of microphones; before, its identifier said so.
    """
    if raw["format"] < GATHERING:
        raw = _channels_that(_gathering, raw)
    if raw["format"] >= DYNAMICS:
        return raw, ()
    pieces = raw.get("pieces")
    if isinstance(pieces, list):
        raw = {**raw, "pieces": [_at_most_whole(piece) for piece in pieces]}
    raw = _channels_that(lambda channel: {k: v for k, v in channel.items() if k != "soloed"}, raw)
    inputs = raw.get("inputs")
    if isinstance(inputs, list):
        raw = {**raw, "inputs": [_renamed(known, "bleeds", "cross_talk") for known in inputs]}
    return raw, (NEW_DYNAMICS,) if pieces else ()


def _channels_that(change: Callable[[dict[str, Any]], dict[str, Any]], raw: dict[str, Any]) -> dict[str, Any]:
    """The kit with its channels changed, those that are none left as they are."""
    routing = raw.get("routing")
    if not isinstance(routing, dict) or not isinstance(routing.get("channels"), list):
        return raw
    channels = [change(channel) if isinstance(channel, dict) else channel for channel in routing["channels"]]
    return {**raw, "routing": {**routing, "channels": channels}}


def _gathering(channel: dict[str, Any]) -> dict[str, Any]:
    named = channel.get("id")
    return {**channel, "gathers": GATHERED[named]} if isinstance(named, str) and named in GATHERED else channel


def _renamed(value: Any, before: str, now: str) -> Any:
    """A value with one of its fields called something else now."""
    if not isinstance(value, dict) or before not in value:
        return value
    return {now if key == before else key: held for key, held in value.items()}


def _at_most_whole(piece: Any) -> Any:
    tracking = piece.get("tracking") if isinstance(piece, dict) else None
    if not isinstance(tracking, dict) or tracking.get("whole"):
        return piece
    level = tracking.get("level", 1.0)
    if not isinstance(level, int | float) or level <= 1.0:
        return piece
    return {**piece, "tracking": {**tracking, "level": 1.0}}
