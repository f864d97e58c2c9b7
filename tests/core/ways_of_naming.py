"""Sixty-four ways of naming recordings, invented in the manner of many hands. Half of them the reader was tuned on; the
other half was written before it was touched, and is only counted."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from itertools import product

import numpy as np

from drumcore.kit.values import Family

F = Family
STEP_DB = 6.0


@dataclass(frozen=True)
class Struck:
    """One articulation as it is written: what the name says of piece and articulation, and what is meant."""

    said: str
    family: Family
    articulation: str
    piece: str = ""


@dataclass(frozen=True)
class Way:
    """`path` is filled with {p} the articulation as said, {v} a strength, {r} a repeat, {m} a microphone, {n} a running number."""

    name: str
    path: str
    articulations: tuple[Struck, ...]
    strengths: tuple[object, ...] = (1, 2, 3)
    repeats: tuple[object, ...] = (1, 2)
    mics: tuple[str, ...] = ("",)
    order: Callable[[int], object] = field(default=lambda n: n)


def s(said: str, family: Family, articulation: str, piece: str = "") -> Struck:
    return Struck(said, family, articulation, piece)


KICK, SNARE = s("kick", F.KICK, "centre"), s("snare", F.SNARE, "centre")
HATS = (s("hihat closed", F.HATS, "closed"), s("hihat open", F.HATS, "open"))


@dataclass(frozen=True)
class Meant:
    """What a file is: its articulation, its strength from 0, its take's number, its microphone."""

    struck: Struck
    strength: int
    repeat: int
    mic: int


# How each family sounds: centroid in Hz, length in ms.
SOUNDS = {
    F.KICK: (180, 350), F.SNARE: (1900, 420), F.HATS: (7500, 160), F.TOM: (320, 700), F.CRASH: (5200, 2600),
    F.RIDE: (4300, 2200), F.SPLASH: (6100, 1100), F.CHINA: (5600, 1700), F.PERCUSSION: (2600, 300), F.OTHER: (900, 900),
}  # fmt: skip


def files(way: Way) -> Iterator[tuple[str, Meant]]:
    struck_in_turn = product(way.articulations, enumerate(way.strengths), enumerate(way.repeats))
    for number, (struck, (v, said_v), (r, said_r)) in enumerate(struck_in_turn, start=1):
        for m, said_m in enumerate(way.mics):
            path = way.path.format(p=struck.said, v=said_v, r=said_r, m=said_m, n=way.order(number))
            yield path, Meant(struck, v, r, m)


def sounds_like(meant: Meant, way: Way) -> tuple[float, float, float, float, int]:
    """Level in dB, start in ms, centroid in Hz, length in ms and frames of a file, the same every time."""
    articulations = list(way.articulations)
    take = np.random.default_rng([articulations.index(meant.struck), meant.strength, meant.repeat])
    wander, length_of_take, lead = take.uniform(-0.6, 0.6), take.uniform(0.93, 1.07), take.uniform(4, 9)
    centroid, length = SOUNDS[meant.struck.family]
    place = 1.0 + 0.17 * articulations.index(meant.struck)
    far = (0.0, -3.5, -9.0, -12.0, -14.0)[meant.mic]
    level = -STEP_DB * (len(way.strengths) - 1 - meant.strength) + wander + far
    bright = centroid / place * (1 + 0.06 * meant.strength) * (1.0, 0.72, 1.3, 0.9, 1.15)[meant.mic]
    ends = length * place * length_of_take * (1 + 0.15 * meant.strength)
    return level, lead + 1.1 * meant.mic, bright, ends * (1 + 0.1 * meant.mic), round(48 * ends * 1.3)


TOMS = (s("hi tom", F.TOM, "centre", "1"), s("mid tom", F.TOM, "centre", "2"), s("lo tom", F.TOM, "centre", "3"))

TUNED = (
    Way("high and low toms", "{p} {v}-{r}.wav", (s("high tom", F.TOM, "centre", "1"), s("low tom", F.TOM, "centre", "2"))),
    Way("hi, mid and lo behind", "tom_{p}_v{v}_{r}.wav", (s("hi", F.TOM, "centre", "1"), s("mid", F.TOM, "centre", "2"), s("lo", F.TOM, "centre", "3"))),
    Way("toms by ordinal", "{p}_{v}_{r}.wav", (s("1st tom", F.TOM, "centre", "1"), s("2nd tom", F.TOM, "centre", "2"))),
    Way("small and large toms", "{p}-{v}-{r}.wav", (s("small tom", F.TOM, "centre", "1"), s("big tom", F.TOM, "centre", "2"))),
    Way("two kicks by number", "{p}_v{v}_r{r}.wav", (s("kick1", F.KICK, "centre", "1"), s("kick2", F.KICK, "centre", "2"))),
    Way("bass drum", "{p} {v} {r}.wav", (s("bass", F.KICK, "centre"), s("side", F.SNARE, "centre"))),
    Way("cymbals that are hats", "{p}_{v}_{r}.wav", (s("closed cymbal", F.HATS, "closed"), s("open cymbal", F.HATS, "open"), s("pedal cymbal", F.HATS, "pedal"))),
    Way("ride and crash cymbals", "{p} v{v} {r}.wav", (s("ride cymbal", F.RIDE, "bow"), s("crash cymbal", F.CRASH, "edge"))),
    Way("splash and china cymbals", "{p}.{v}.{r}.wav", (s("splash cymbal", F.SPLASH, "edge"), s("china cymbal", F.CHINA, "edge"))),
    Way("ride by articulations", "{p}_{v}_{r}.wav", (s("RideBow", F.RIDE, "bow"), s("RideBell", F.RIDE, "bell"), s("RideEdge", F.RIDE, "edge"))),
    Way("microphones by letters", "{p}_{m}_{v}_{r}.wav", (KICK, SNARE), mics=("a", "b")),
    Way("microphones by numbers", "{p} v{v} rr{r} {m}.wav", (KICK, SNARE), mics=("1", "2")),
    Way("a letter before the repeat", "{p}{v}_{m}{r}.wav", (KICK, SNARE), mics=("C", "R")),
    Way("microphones as letters in folders", "{m}/{p}_{v}_{r}.wav", (KICK, SNARE), mics=("A", "B", "C")),
    Way("short for everything", "{p}_{v}_{r}.wav", (s("bd", F.KICK, "centre"), s("sn", F.SNARE, "centre"), s("hhc", F.HATS, "closed"), s("hho", F.HATS, "open"), s("rd", F.RIDE, "bow"), s("cr", F.CRASH, "edge"))),
    Way("short toms", "{p}{v}{r}.wav", (s("T1_", F.TOM, "centre", "1"), s("T2_", F.TOM, "centre", "2"), s("T3_", F.TOM, "centre", "3")), strengths=("a", "b", "c")),
    Way("toms short, high to floor", "{p} {v} {r}.wav", (s("HT", F.TOM, "centre", "1"), s("MT", F.TOM, "centre", "2"), s("FT", F.TOM, "centre", "3"))),
    Way("sizes are nothing", "{p}_v{v}_{r}.wav", (s("22in kick", F.KICK, "centre"), s("14in snare", F.SNARE, "centre"))),
    Way("dates and tempos are nothing", "2024-11-03 {p} 120bpm v{v} take{r}.wav", (KICK, SNARE)),
    Way("mix, dry and final are nothing", "{p}_dry_final_{v}_{r}.wav", (KICK, SNARE)),
    Way("makers are nothing", "Brannigan {p} {v} {r}.wav", (KICK, SNARE)),
    Way("floor alone", "{p}-{v}-{r}.wav", (s("floor", F.TOM, "centre", "1"), s("rack", F.TOM, "centre", "2"))),
    Way("strengths in words", "{p} {v} {r}.wav", (KICK, SNARE), strengths=("soft", "medium", "hard")),
    Way("strengths in marks", "{p}_{v}_{r}.wav", (KICK, *HATS), strengths=("pp", "mf", "ff")),
    Way("letters for strengths", "{p}-{v}{r}.wav", (KICK, SNARE), strengths=("S", "M", "H")),
    Way("running numbers alone", "{p}{n:03d}.wav", (KICK, SNARE)),
    Way("velocity in brackets", "{p} [{v}] ({r}).wav", (KICK, SNARE, *HATS), strengths=(31, 74, 127)),
    Way("pieces in folders", "{p}/{v}_{r}.wav", (s("Kick", F.KICK, "centre"), s("Snare", F.SNARE, "centre"), s("Ride", F.RIDE, "bow"))),
    Way("overheads and room in the name", "{p}_{m}_{v}_{r}.wav", (KICK, SNARE), mics=("close", "OH", "room")),
    Way("side stick and rim", "{p} {v} {r}.wav", (s("Snare Sidestick", F.SNARE, "side stick"), s("Snare Rimshot", F.SNARE, "rimshot"), s("Snare Hit", F.SNARE, "centre"))),
    Way("hats by foot", "{p}_{v}_{r}.wav", (s("HH foot", F.HATS, "pedal"), s("HH half", F.HATS, "half open"), s("HH shut", F.HATS, "closed"))),
    Way("hand percussion", "{p} {v} {r}.wav", (s("conga hi", F.PERCUSSION, "hit", "1"), s("conga lo", F.PERCUSSION, "hit", "2"), s("cowbell", F.PERCUSSION, "hit"))),
)  # fmt: skip

# Written before the reader was touched. Never tune to these: they tell how it does with a stranger's.
UNSEEN = (
    Way("upper and lower tom", "{p}.{v}.{r}.wav", (s("UpperTom", F.TOM, "centre", "1"), s("LowerTom", F.TOM, "centre", "2"))),
    Way("tom letters", "Tom{p} L{v} T{r}.wav", (s("A", F.TOM, "centre", "1"), s("B", F.TOM, "centre", "2"))),
    Way("numbered toms apart", "Tom {p} - {v} - {r}.wav", (s("1", F.TOM, "centre", "1"), s("2", F.TOM, "centre", "2"), s("3", F.TOM, "centre", "3"))),
    Way("left and right kick", "{p}_{v}_{r}.wav", (s("KickL", F.KICK, "centre", "1"), s("KickR", F.KICK, "centre", "2"))),
    Way("main and second snare", "{p} v{v} r{r}.wav", (s("Main Snare", F.SNARE, "centre", "1"), s("Second Snare", F.SNARE, "centre", "2"))),
    Way("hats with one word", "{p}-{v}-{r}.wav", (s("Closed", F.HATS, "closed"), s("Open", F.HATS, "open"), s("Pedal", F.HATS, "pedal"))),
    Way("hats in a folder", "Hi-Hat/{p}/{v}-{r}.wav", (s("Closed", F.HATS, "closed"), s("Half-Open", F.HATS, "half open"), s("Open", F.HATS, "open"))),
    Way("crashes by size", "{p} {v}_{r}.wav", (s("Crash 16", F.CRASH, "edge", "1"), s("Crash 18", F.CRASH, "edge", "2"))),
    Way("cymbals by side", "Cym {p} {v} {r}.wav", (s("Left", F.CRASH, "edge", "1"), s("Right", F.CRASH, "edge", "2"))),
    Way("ride zones short", "{p}_{v}_rr{r}.wav", (s("RD_BW", F.RIDE, "bow"), s("RD_BL", F.RIDE, "bell"), s("RD_CR", F.RIDE, "crash"))),
    Way("microphones behind a hash", "{p} {v}.{r} #{m}.wav", (KICK, SNARE), mics=("1", "2", "3")),
    Way("channels", "{p}_v{v}_r{r}_ch{m}.wav", (KICK, SNARE), mics=("1", "2")),
    Way("microphone folders by number", "Mic {m}/{p} {v} {r}.wav", (KICK, SNARE), mics=("1", "2")),
    Way("inside and outside", "Kick {m} {v}{r}.wav", (s("", F.KICK, "centre"),), strengths=("a", "b", "c"), mics=("in", "out")),
    Way("top and under", "{m}_SNR_{v}_{r}.wav", (s("", F.SNARE, "centre"),), mics=("Top", "Btm")),
    Way("ambience far and near", "{p}/{m}/{v}_{r}.wav", (s("Kick", F.KICK, "centre"), s("Snare", F.SNARE, "centre")), mics=("Near", "Far")),
    Way("one letter for a drum", "{p}{v}{r}.wav", (s("K", F.KICK, "centre"), s("S", F.SNARE, "centre"), s("H", F.HATS, "closed")), strengths=(1, 2, 3), repeats=("a", "b")),
    Way("four letters", "{p}_{v}_{r}.wav", (s("KICK", F.KICK, "centre"), s("SNAR", F.SNARE, "centre"), s("HATC", F.HATS, "closed"), s("CRSH", F.CRASH, "edge"), s("SPLS", F.SPLASH, "edge"))),
    Way("session and take", "S03_{p}_T{n:02d}.wav", (KICK, SNARE)),
    Way("volume and release", "DrumLib_Vol2_{p}_{v}_{r}_24bit.wav", (KICK, SNARE)),
    Way("soft to loud in numbers of ten", "{p}-{v}-{r}.wav", (KICK, SNARE, *HATS), strengths=(10, 40, 70, 100)),
    Way("hardest first", "{p}_{v}_{r}.wav", (KICK, SNARE), strengths=(3, 2, 1)),
    Way("repeats before strengths", "{p} t{r} l{v}.wav", (KICK, SNARE, *HATS)),
    Way("words run together", "{p}{v}Take{r}.wav", (s("KickDrum", F.KICK, "centre"), s("SnareDrum", F.SNARE, "centre")), strengths=("Soft", "Medium", "Hard")),
    Way("one take a strength", "{p} {v}.wav", (KICK, SNARE, *HATS), strengths=(1, 2, 3, 4), repeats=(1,)),
    Way("rimshots short", "{p}_{v}_{r}.wav", (s("SN_RS", F.SNARE, "rimshot"), s("SN_XS", F.SNARE, "side stick"), s("SN_CT", F.SNARE, "centre"))),
    Way("bongos and congas", "{p}-{v}-{r}.wav", (s("Bongo High", F.PERCUSSION, "hit", "1"), s("Bongo Low", F.PERCUSSION, "hit", "2"), s("Conga Slap", F.PERCUSSION, "slap"))),
    Way("tambourine and shaker", "Perc/{p}/{v} {r}.wav", (s("Tambourine", F.PERCUSSION, "hit"), s("Shaker", F.PERCUSSION, "hit"))),
    Way("gong and bell", "{p}_{v}_{r}.wav", (s("Gong", F.OTHER, "hit"), s("Agogo", F.PERCUSSION, "hit"))),
    Way("velocity with leading zeros", "{v:03d}_{p}_{r:02d}.wav", (KICK, SNARE), strengths=(20, 64, 127)),
    Way("strengths in parts of the name", "{p} {v} of 4 #{r}.wav", (KICK, SNARE), strengths=(1, 2, 3, 4)),
    Way("stereo overheads beside close", "{m} - {p} - {v}.{r}.wav", (KICK, SNARE), mics=("Close", "Overheads", "Hall")),
)  # fmt: skip
