"""The treatments that ship, each for one kind of channel, named by what they do.

They were tuned by measuring the demo's recordings; `zesty treatments DIR` prints the results and docs/treatments.md
holds them: the change of level, crest and three bands. Make-up keeps the level within 1 dB.
"""

from dataclasses import dataclass

from drumcore.treatments.compressor import Compressor
from drumcore.treatments.drive import Drive
from drumcore.treatments.eq import BandKind, Eq, EqBand
from drumcore.treatments.kept import KeptTreatments
from drumcore.treatments.kinds import Treatment

LOW_CUT, LOW_SHELF, PEAK, HIGH_SHELF, HIGH_CUT = BandKind


@dataclass(frozen=True)
class ShippedTreatment:
    """`heard_on` is the folder of the demo session it was measured on."""

    id: str
    name: str
    heard_on: str
    kept: KeptTreatments


def _eq(*bands: tuple[BandKind, float, float, float]) -> Eq:
    return Eq(bands=tuple(EqBand(kind=kind, hz=hz, gain_db=gain, q=q) for kind, hz, gain, q in bands))


def _shipped(id_: str, name: str, heard_on: str, says: str, *treatments: Treatment) -> ShippedTreatment:
    return ShippedTreatment(id_, name, heard_on, KeptTreatments(treatments=treatments, says=says))


SHIPPED = (
    _shipped(
        "kick-thud",
        "Kick: thud and click, no box",
        "Kick in/Kick centre",
        "More under 80 Hz and at 3.5 kHz, less at 320 Hz; the tail compressed.",
        _eq((LOW_SHELF, 80, 3.0, 1), (PEAK, 320, -6.0, 1.1), (PEAK, 3500, 4.0, 1.2)),
        Compressor(threshold_db=-20, ratio=4, attack_ms=20, release_ms=90, make_up_db=1.5),
    ),
    _shipped(
        "kick-short",
        "Kick: short",
        "Kick in/Kick centre",
        "Everything after the strike is compressed hard.",
        Compressor(threshold_db=-30, ratio=8, knee_db=3, attack_ms=8, release_ms=220, make_up_db=7.0),
    ),
    _shipped(
        "snare-forward",
        "Snare: forward",
        "Snare top/Snare centre",
        "Nothing below 90 Hz, less at 240 Hz, more crack at 4.2 kHz.",
        _eq((LOW_CUT, 90, 0, 1), (PEAK, 240, -3.5, 1.1), (PEAK, 4200, 4.0, 0.9), (HIGH_SHELF, 9000, 2.0, 1)),
        Compressor(threshold_db=-18, ratio=4, attack_ms=12, release_ms=90, make_up_db=1.5),
    ),
    _shipped(
        "snare-thick",
        "Snare: thick",
        "Snare top/Snare centre",
        "More body at 180 Hz, long compression, some drive.",
        _eq((PEAK, 180, 3.0, 0.9)),
        Compressor(threshold_db=-24, ratio=5, attack_ms=30, release_ms=140, make_up_db=2.0),
        Drive(drive_db=9, asymmetry=0.2, mix=0.4),
    ),
    _shipped(
        "hats-thin",
        "Hats: thin and clear",
        "Hat/Hats closed",
        "Nothing below 350 Hz, a little less at 1 kHz, more above 9 kHz.",
        _eq((LOW_CUT, 350, 0, 1), (PEAK, 1000, -3.0, 0.9), (HIGH_SHELF, 9000, 2.0, 1)),
    ),
    _shipped(
        "toms-body",
        "Toms: body without boom",
        "Floor tom/Floor tom centre",
        "Less at 400 Hz, more stick at 4.5 kHz, the ring compressed.",
        _eq((LOW_CUT, 50, 0, 1), (PEAK, 400, -5.0, 1.0), (PEAK, 4500, 4.0, 1.0)),
        Compressor(threshold_db=-20, ratio=3, attack_ms=25, release_ms=160, make_up_db=2.0),
    ),
    _shipped(
        "overheads-cymbals",
        "Overheads: cymbals alone",
        "Overheads/Snare centre",
        "The drums are cut away under 450 Hz; air above 10 kHz.",
        _eq((LOW_CUT, 450, 0, 1), (HIGH_SHELF, 10_000, 2.5, 1)),
    ),
    _shipped(
        "overheads-even",
        "Overheads: the whole kit, even",
        "Overheads/Snare centre",
        "Slow, gentle compression that ignores the kick.",
        _eq((LOW_CUT, 60, 0, 1)),
        Compressor(
            threshold_db=-28, ratio=2.5, knee_db=12, attack_ms=15, release_ms=250, make_up_db=2.0, low_cut_hz=150
        ),
    ),
    _shipped(
        "room-breathes",
        "Room: breathing",
        "Room/Snare centre",
        "Strikes compressed hard, so the room comes up between them.",
        Compressor(threshold_db=-40, ratio=8, knee_db=6, attack_ms=0.5, release_ms=140, make_up_db=15.0),
    ),
    _shipped(
        "room-far",
        "Room: dark and far",
        "Room/Snare centre",
        "Nothing above 4.5 kHz, nothing under 110 Hz.",
        _eq((LOW_CUT, 110, 0, 1), (HIGH_CUT, 4500, 0, 1)),
    ),
    _shipped(
        "main-together",
        "Main: held together",
        "Overheads/Kick centre",
        "Two to one over a wide knee; the kick does not make it pump.",
        Compressor(threshold_db=-34, ratio=2, knee_db=12, attack_ms=30, release_ms=180, make_up_db=0.5, low_cut_hz=100),
    ),
    _shipped(
        "main-warm",
        "Main: a little warm",
        "Overheads/Kick centre",
        "Peaks rounded by half, a little less above 10 kHz.",
        _eq((HIGH_SHELF, 10_000, -1.5, 1)),
        Drive(drive_db=12, asymmetry=0.25, mix=0.5),
    ),
)
