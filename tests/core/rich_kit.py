"""The small kit with something of everything."""

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.kit.values import Curve, Kit, Node
from drumcore.spaces.hall import Hall
from drumcore.treatments.compressor import Compressor
from drumcore.treatments.eq import Eq


def rich_kit(kit: Kit) -> Kit:
    for edit in (
        e.MakeBus(name="Air"),
        e.MakeBus(name="Crush"),
        e.SetSpace(bus="air-bus", space=Hall()),
        e.SetSend(channel="snare-channel", bus="air-bus", level_db=-9.0),
        e.SetSend(channel="kick-channel", bus="crush-bus", level_db=-12.0, pre_fader=True),
        e.GoIntoBus(channels=("overheads-channel",), bus="crush-bus"),
        e.SetTreatment(channel="kick-channel", treatment=Compressor()),
        e.SetTreatment(channel="room-channel", treatment=Eq()),
        e.GroupChannels(channels=("kick-channel", "hats-channel")),
        e.SetCurve(input="d", input_name="Pads", curve=Curve(nodes=(Node(x=0, y=0), Node(x=127, y=110)))),
        e.SetCurve(target="snare", curve=Curve(nodes=(Node(x=0, y=0), Node(x=127, y=120)))),
        e.SetChannel(channel="snare-channel", output=3, side="left"),
        e.MakePiece(name="Cowbell"),
        e.IgnoreFinding(finding="x"),
    ):
        kit = apply(kit, edit)
    return kit
