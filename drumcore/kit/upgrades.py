"""Brings kits of older formats up to date, with a sentence where they will sound different."""

from collections.abc import Callable
from typing import Any

DYNAMICS, GATHERING, COMPARING, MAIN_MIX, TRACKS = 4, 5, 6, 7, 11
HALF_SURE = 0.3
"""How sure an older comparison of microphones counts: it did not say."""
GATHERED = {"overheads": "overhead", "room": "room", "other-microphones": "other"}
NEW_DYNAMICS = (
    "This kit was saved by an earlier version. Its articulations now follow one target through their layers, so that a harder "
    "strike is never softer: some velocities sound a little louder or softer than they did."
)


def upgraded(raw: dict[str, Any]) -> tuple[dict[str, Any], tuple[str, ...]]:
    """A kit read from JSON, upgraded to today's format, and sentences about differences.

    Formats 2 and 3 only added fields, whose defaults mean what happened before. Format 4 introduced the rule of
    `layers.dynamics`, in which more than 100 % inside layers acts as 100 %, and dropped solo, which is listening.
    Format 5 marks channels that gather a kind of microphones; before, their ids did. Format 6 compares every side of
    every microphone with a reference; before, only own microphones were compared. Format 7 made the main mix a channel;
    before, it was only a level. Formats 8 to 10 added channel groups, buses, sends and spaces. Format 11 added the
    host's names of outputs; before, there was one host whose stereo outputs were counted by channels. Format 12 added a
    description and tags. Format 13 renamed fields; `kit.values` accepts each older name. Format 14 added the
    routing plan that was applied.
    """
    if raw["format"] < GATHERING:
        raw = _channels_that(_gathering, raw)
    if raw["format"] < COMPARING:
        raw = _recordings_that(_compared, raw)
    if raw["format"] < MAIN_MIX:
        raw = _with_main(raw)
    if raw["format"] < TRACKS:
        raw = _with_what_it_calls_them(raw)
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
    """The kit with its channels changed; entries that are not objects are left alone."""
    routing = raw.get("routing")
    if not isinstance(routing, dict) or not isinstance(routing.get("channels"), list):
        return raw
    channels = [change(channel) if isinstance(channel, dict) else channel for channel in routing["channels"]]
    return {**raw, "routing": {**routing, "channels": channels}}


def _with_main(raw: dict[str, Any]) -> dict[str, Any]:
    routing = raw.get("routing")
    if not isinstance(routing, dict):
        return raw
    main = {"id": "main", "name": "Main", "level_db": routing.get("main_level_db", 0.0)}
    routing = {**{key: held for key, held in routing.items() if key != "main_level_db"}, "main": main}
    for name, field in (("channels", "id"), ("feeds", "channel")):
        if isinstance(routing.get(name), list):
            routing[name] = [_not_main(each, field) for each in routing[name]]
    return {**raw, "routing": routing}


def _with_what_it_calls_them(raw: dict[str, Any]) -> dict[str, Any]:
    routing = raw.get("routing")
    if not isinstance(routing, dict) or not isinstance(routing.get("outputs"), list):
        return raw
    outputs = [_called(output) if isinstance(output, dict) else output for output in routing["outputs"]]
    return {**raw, "routing": {**routing, "outputs": outputs}}


def _called(output: dict[str, Any]) -> dict[str, Any]:
    number = output.get("number")
    if not isinstance(number, int) or output.get("width", "stereo") != "stereo":
        return output
    return {**output, "called": f"{number * 2 - 1}/{number * 2}"}


def _not_main(value: Any, field: str) -> Any:
    """An ordinary channel could have this name before format 7."""
    return {**value, field: "main-1"} if isinstance(value, dict) and value.get(field) == "main" else value


def _recordings_that(change: Callable[[dict[str, Any]], dict[str, Any]], raw: dict[str, Any]) -> dict[str, Any]:
    """The kit with all its recordings changed."""

    def within(value: Any, names: tuple[str, ...]) -> Any:
        if not names:
            return change(value) if isinstance(value, dict) else value
        if not isinstance(value, dict) or not isinstance(value.get(names[0]), list):
            return value
        return {**value, names[0]: [within(each, names[1:]) for each in value[names[0]]]}

    changed: dict[str, Any] = within(raw, ("pieces", "articulations", "takes", "recordings"))
    return changed


def _compared(recording: dict[str, Any]) -> dict[str, Any]:
    left = {key: held for key, held in recording.items() if key not in ("polarity", "delay_ms")}
    if not recording.get("polarity"):
        return left
    before = {"delay_ms": recording.get("delay_ms", 0.0), "polarity": recording["polarity"], "sure": HALF_SURE}
    return {**left, "against": [before]}


def _gathering(channel: dict[str, Any]) -> dict[str, Any]:
    named = channel.get("id")
    return {**channel, "gathers": GATHERED[named]} if isinstance(named, str) and named in GATHERED else channel


def _renamed(value: Any, before: str, now: str) -> Any:
    """A value with one field renamed."""
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
