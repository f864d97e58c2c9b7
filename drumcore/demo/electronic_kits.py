"""Stand-in electronic kits: simulated pads with their own note numbers and habits. They ship with the product."""

from drumcore.kit.values import Value


class Pad(Value):
    """A pad: the note it sends, the computer key that strikes it, and where it is drawn (0..1 across, 0..1 down).

    `edge_note` is sent when its rim is struck.
    """

    name: str
    note: int
    edge_note: int | None = None
    key: str
    x: float
    y: float
    size: float


class ElectronicKit(Value):
    """`pedal_note` is sent as the hats' pedal closes; the pedal's place is sent on `openness_controller`."""

    id: str
    name: str
    pads: tuple[Pad, ...]
    pedal_note: int
    openness_controller: int


DECKHAND_5 = ElectronicKit(
    id="deckhand-5",
    name="Deckhand 5",
    pads=(
        Pad(name="Hats", note=46, key="D", x=0.12, y=0.28, size=0.19),
        Pad(name="Snare", note=38, edge_note=40, key="S", x=0.33, y=0.66, size=0.22),
        Pad(name="Kick", note=36, key="A", x=0.62, y=0.7, size=0.22),
        Pad(name="Tom", note=48, key="F", x=0.47, y=0.22, size=0.19),
        Pad(name="Crash", note=49, key="G", x=0.84, y=0.34, size=0.24),
    ),
    pedal_note=44,
    openness_controller=4,
)
ELECTRONIC_KITS = (DECKHAND_5,)
