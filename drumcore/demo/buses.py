"""The shared buses of the demo kit: a compressed bus under the snare, and a hall for the kit."""

from collections.abc import Iterator

from drumcore.edits.buses import MakeBus, SetSend, SetSpace
from drumcore.edits.channels import SetTreatments
from drumcore.edits.values import OneEdit
from drumcore.spaces.hall import Hall
from drumcore.treatments.compressor import Compressor
from drumcore.treatments.drive import Drive
from drumcore.treatments.eq import BandKind, Eq, EqBand

CRUSH, AIR = "crush-bus", "air-bus"
SENT_DB = {("snare-channel", CRUSH): -9.0, ("snare-channel", AIR): -14.0, ("overheads-channel", AIR): -18.0}


def shared() -> Iterator[OneEdit]:
    """The edits that create both buses of the main demo kit and its sends into them."""
    yield MakeBus(name="Crush")
    yield MakeBus(name="Air")
    low_cut = EqBand(kind=BandKind.LOW_CUT, hz=120.0, gain_db=0.0, q=1.0)
    squeezed = Compressor(threshold_db=-36.0, ratio=12.0, knee_db=3.0, attack_ms=1.0, release_ms=90.0, make_up_db=9.0)
    yield SetTreatments(channel=CRUSH, treatments=(squeezed, Drive(drive_db=12.0, asymmetry=0.2)))
    yield SetTreatments(channel=AIR, treatments=(Eq(bands=(low_cut,)),))
    yield SetSpace(bus=AIR, space=Hall(length_s=1.6, size_m=22.0, damping=0.5, pre_delay_ms=16.0, seed=4))
    for (channel, bus), level_db in SENT_DB.items():
        yield SetSend(channel=channel, bus=bus, level_db=level_db)
