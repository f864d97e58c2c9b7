"""The track sheet: which note plays which articulation, which outputs it leaves by, and the track names at the host."""

from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Family, Kit, Output, Piece, Side, Width
from drumcore.notes.maps import STANDARD_NAME
from drumcore.notes.names import note_name
from drumcore.routing.default_routing import own_channel
from drumcore.routing.host_moves import outputs_used
from drumcore.routing.reachability import is_heard, why_silent
from drumcore.routing.signal_paths import channels_heard, outputs_reached, own_outputs
from drumcore.value import Value


class SheetPlace(Value):
    """An output an articulation leaves by: its number, the host's name for it, its track's name there, and the side
    used.
    """

    number: int
    called: str
    track: str
    side: Side = Side.BOTH


class SheetArticulation(Value):
    """`layers` holds the number of takes of each layer, softest first."""

    name: str
    notes: tuple[int, ...]
    note_names: tuple[str, ...]
    layers: tuple[int, ...]


class SheetPiece(Value):
    """`own` is where its own channel arrives, `others` where else it is heard: overheads, rooms, reverbs. A piece that is
    heard nowhere says why in `silent`.
    """

    name: str
    family: Family
    articulations: tuple[SheetArticulation, ...]
    own: SheetPlace | None
    others: tuple[SheetPlace, ...]
    silent: str = ""


class SheetTrack(Value):
    """A track at the host, and the channels and buses that arrive there."""

    number: int
    called: str
    track: str
    width: Width
    arrives: tuple[str, ...]


class TrackSheet(Value):
    kit: str
    host: str
    notes_from: str
    pieces: tuple[SheetPiece, ...]
    tracks: tuple[SheetTrack, ...]


def track_of(output: Output) -> str:
    """A track's name at the host: the one given there, else the host's own, which counts."""
    return output.track or f"Track {output.number}"


def track_sheet(kit: Kit) -> TrackSheet:
    """The track sheet of a kit: only what arrives, at outputs that the host has."""
    outputs = {output.number: output for output in kit.routing.outputs}
    used, heard = outputs_used(kit.routing), channels_heard(kit)
    tracks = tuple(
        SheetTrack(
            number=number,
            called=outputs[number].called or f"{number}",
            track=track_of(outputs[number]),
            width=outputs[number].width,
            arrives=tuple(channel.name for channel in used[number] if channel.id in heard),
        )
        for number in sorted(used)
        if number in outputs
    )
    base = kit.notes.base
    return TrackSheet(
        kit=kit.name,
        host=kit.routing.host,
        notes_from=base.name if base else STANDARD_NAME,
        pieces=tuple(_piece(kit, piece, outputs) for piece in pieces_of(kit)),
        tracks=tracks,
    )


def _piece(kit: Kit, piece: Piece, outputs: dict[int, Output]) -> SheetPiece:
    own = own_channel(kit, piece)
    by_own, reached = own_outputs(kit, piece), outputs_reached(kit, piece)
    side = own.side if own and by_own and own.output == by_own[0] else Side.BOTH
    first = _place(outputs[by_own[0]]).but(side=side) if by_own else None
    others = [_place(outputs[number]) for number in reached if number not in by_own[:1]]
    notes: dict[str, list[int]] = {}
    for placed in kit.notes.placed:
        notes.setdefault(placed.articulation, []).append(placed.note)
    articulations = []
    for articulation in piece.articulations:
        here = tuple(sorted(set(notes.get(articulation.id, ()))))
        names = tuple(note_name(note, kit.notes.middle_c) for note in here)
        layers = tuple(len(layer.takes) for layer in articulation.layers)
        articulations.append(SheetArticulation(name=articulation.name, notes=here, note_names=names, layers=layers))
    return SheetPiece(
        name=piece.name,
        family=piece.family,
        articulations=tuple(articulations),
        own=first,
        others=tuple(others),
        silent="" if reached else _silent(kit, piece),
    )


def _silent(kit: Kit, piece: Piece) -> str:
    if is_heard(kit, piece.id):
        return f"{piece.name} is set below −60 dB at every output; it is silent."
    return why_silent(kit, piece)


def _place(output: Output) -> SheetPlace:
    return SheetPlace(number=output.number, called=output.called or f"{output.number}", track=track_of(output))
