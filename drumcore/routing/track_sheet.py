"""The track sheet: which articulation is struck by which note, which outputs it leaves by, and what those are called at the host."""

from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Family, Kit, Output, Piece, Side, Width
from drumcore.notes.maps import STANDARD_NAME
from drumcore.notes.names import note_name
from drumcore.routing.default_routing import outputs_of, own_channel
from drumcore.routing.host_moves import outputs_used
from drumcore.value import Value


class SheetPlace(Value):
    """An output an articulation leaves by: its number, what the host calls it, its track's name there, and the side it takes."""

    number: int
    called: str
    track: str
    side: Side = Side.BOTH


class SheetArticulation(Value):
    """`layers` are the numbers of takes of its layers, softest first."""

    name: str
    notes: tuple[int, ...]
    note_names: tuple[str, ...]
    layers: tuple[int, ...]


class SheetPiece(Value):
    """`own` is where its own channel leaves, `others` where else it is heard: overheads, room, spaces."""

    name: str
    family: Family
    articulations: tuple[SheetArticulation, ...]
    own: SheetPlace | None
    others: tuple[SheetPlace, ...]


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
    """What a track is called at the host: its own name there, else what is sent to it."""
    return output.track or output.name


def track_sheet(kit: Kit) -> TrackSheet:
    """The sheet of a kit as it stands; what goes to an output the host does not have is told by its number alone."""
    outputs = {output.number: output for output in kit.routing.outputs}
    used = outputs_used(kit.routing)
    tracks = tuple(
        SheetTrack(
            number=number,
            called=outputs[number].called or f"{number}",
            track=track_of(outputs[number]),
            width=outputs[number].width,
            arrives=tuple(channel.name for channel in used[number]),
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
    leaving = [_place(number, outputs) for number in outputs_of(kit, piece)]
    first = leaving[0].but(side=own.side) if own and leaving else None
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
        others=tuple(leaving[1:] if own else leaving),
    )


def _place(number: int, outputs: dict[int, Output]) -> SheetPlace:
    output = outputs.get(number)
    if output is None:
        return SheetPlace(number=number, called="not there", track="")
    return SheetPlace(number=number, called=output.called or f"{number}", track=track_of(output))
