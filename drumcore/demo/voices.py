"""The drums of the Salt Lantern Players: each articulation's spectrum and decay at full strength.

Levels in dB and times in ms stand for 40–100, 100–200, 200–500, 500–1k, 1–2k, 2–5k, 5–10k and 10–18k Hz. They start
from the measurements of real drums in "The demo"; `demo.figures` checks what the microphones then record.
"""

from dataclasses import replace

from drumcore.demo.synthesis import Voice, tones

KICK = Voice(
    levels_db=(0, -8, -21, -30, -28, -21, -25, -33),
    times_ms=(62, 26, 40, 36, 20, 13, 13, 14),
    seconds=0.5,
    soft_db=(0, 0, 1, 3, 6, 9, 11, 12),
    tones=tones(54, 112),
    tonal=(1.0, 0.9, 0, 0, 0, 0, 0, 0),
    drop=0.3,
    drop_s=0.014,
)
COCKTAIL_KICK = Voice(
    levels_db=(0, -4, -14, -22, -24, -24, -29, -38),
    times_ms=(120, 80, 50, 40, 25, 15, 12, 12),
    seconds=0.6,
    soft_db=(0, 0, 1, 3, 6, 9, 11, 12),
    tones=tones(74, 141, 236),
    tonal=(1.0, 0.95, 0.5, 0, 0, 0, 0, 0),
    drop=0.5,
    drop_s=0.016,
)
SNARE_HEAD = Voice(
    levels_db=(-17, 0, 0, -12, -17, -15, -17, -22),
    times_ms=(20, 36, 70, 90, 60, 40, 30, 25),
    seconds=0.45,
    soft_db=(0, 0, 0.5, 1, 2, 3, 3, 3),
    tones=tones(78, 182, (297, 1.0), (361, 0.15), (438, 0.1), 590, 745),
    tonal=(0.5, 1.0, 0.85, 0.6, 0, 0, 0, 0),
    drop=0.16,
    drop_s=0.012,
)
SNARE_WIRES = Voice(
    levels_db=(-60, -45, -25, -10, -11, -9, -8, -13),
    times_ms=(30, 50, 70, 122, 118, 122, 110, 95),
    seconds=0.45,
    soft_db=(0, 0, 0, 3, 3, 4, 4, 4),
    rise_ms=(1.0,) * 8,
)
SIDE_SNARE_HEAD = replace(
    SNARE_HEAD.louder(-4, -6, 0, 2, 2, 1, 1, 1).longer(0.8),
    tones=tones(92, 168, (246, 1.0), (392, 0.8), (487, 0.5), 655, 870),
)
SIDE_SNARE_WIRES = SNARE_WIRES.louder(0, 0, 0, 0, 1, 1, 2, 2).longer(0.75)
RIM = Voice(
    levels_db=(-40, -22, -12, -3, -2, 0, -6, -14),
    times_ms=(20, 30, 70, 130, 100, 60, 35, 25),
    seconds=0.35,
    soft_db=(0, 0, 0, 1, 2, 4, 6, 7),
    tones=tones(421, 835, (1290, 1.0), (1710, 0.7), 2380, 3460),
    tonal=(0, 0, 0.8, 0.9, 0.85, 0.4, 0, 0),
)
SIDE_STICK = Voice(
    levels_db=(-34, -20, -6, -4, 0, -2, -9, -17),
    times_ms=(20, 35, 45, 32, 26, 20, 15, 12),
    seconds=0.3,
    soft_db=(0, 0, 0, 1, 2, 4, 6, 8),
    tones=tones(231, 412, 672, (1180, 1.0), (1655, 0.6), 2710),
    tonal=(0, 0, 0.8, 0.8, 0.75, 0.3, 0, 0),
)
RACK_TOM = Voice(
    levels_db=(-18, 0, -3, -13, -16, -14, -19, -27),
    times_ms=(420, 350, 100, 116, 112, 66, 40, 40),
    seconds=1.3,
    soft_db=(0, 0, 1, 2, 4, 9, 10, 11),
    tones=tones(91, 124, (232, 1.0), (318, 0.12), (391, 0.08)),
    tonal=(1.0, 1.0, 0.9, 0, 0, 0, 0, 0),
    rise_ms=(6.0, 5.0, 1.0, 0.3, 0.3, 0.3, 0.3, 0.3),
    drop=0.06,
    drop_s=0.05,
)
MID_TOM = Voice(
    levels_db=(-30, 0, -5, -12, -14, -13, -21, -31),
    times_ms=(450, 330, 85, 120, 120, 70, 48, 45),
    seconds=1.6,
    soft_db=(0, 0, 1, 2, 4, 9, 10, 11),
    tones=tones(108, (207, 1.0), (286, 0.12), (352, 0.08)),
    tonal=(0, 1.0, 0.9, 0, 0, 0, 0, 0),
    drop=0.12,
    drop_s=0.055,
)
FLOOR_TOM = Voice(
    levels_db=(-5, 0, -8, -13, -12, -13, -21, -32),
    times_ms=(730, 290, 80, 170, 138, 76, 55, 50),
    seconds=2.4,
    soft_db=(0, 0, 1, 2, 4, 9, 10, 11),
    tones=tones(79, 126, (228, 1.0), (301, 0.12), (368, 0.08)),
    tonal=(1.0, 1.0, 0.9, 0, 0, 0, 0, 0),
    drop=0.1,
    drop_s=0.06,
)

_METAL_SOFT = (0.0, 0.0, 0.0, 1.0, 2.0, 4.0, 8.0, 11.0)
CLOSED_HAT = Voice(
    levels_db=(-31, -25, -16, -21, -15, -8, -3, 0),
    times_ms=(24, 38, 68, 116, 62, 102, 98, 92),
    seconds=0.4,
    soft_db=_METAL_SOFT,
    casting=11,
)
TIGHT_HAT = CLOSED_HAT.louder(0, 0, 2, 0, -1, -1, 0, 0).longer(1, 0.9, 0.7, 0.55, 0.55, 0.5, 0.5, 0.5)
OPEN_HAT = Voice(
    levels_db=(-35, -32, -3, -10, -13, -6, -2, 0),
    times_ms=(87, 49, 31, 410, 790, 790, 760, 390),
    seconds=1.7,
    soft_db=_METAL_SOFT,
    tones=tones((282, 0.6), 341, (419, 0.6)),
    tonal=(0, 0, 0.9, 0, 0, 0, 0, 0),
    casting=11,
    rise_ms=(0.3, 0.3, 0.3, 0.6, 1.0, 1.0, 1.0, 1.0),
)
HALF_OPEN_HAT = replace(
    OPEN_HAT.louder(0, 2, -5, -2, 0, -1, 0, 0).longer(0.8, 0.8, 1.2, 0.6, 0.5, 0.45, 0.42, 0.5), seconds=1.0
)
PEDAL_HAT = replace(
    CLOSED_HAT.louder(4, 6, 8, 6, 3, 1, 0, -2).longer(1.2, 1.2, 0.7, 0.6, 0.7, 0.65, 0.6, 0.55), rise_ms=(1.5,) * 8
)
CRASH_LEFT = Voice(
    levels_db=(-39, -36, -11, -22, -21, -10, 0, -5),
    times_ms=(74, 960, 600, 1400, 1200, 980, 405, 375),
    seconds=3.2,
    soft_db=_METAL_SOFT,
    casting=23,
    rise_ms=(0.5, 0.5, 0.5, 2.0, 3.0, 2.0, 1.0, 1.0),
)
CRASH_RIGHT = replace(
    CRASH_LEFT.louder(0, 2, 2, 3, 2, 1, 0, -2).longer(1, 1.1, 1.2, 1.1, 0.95, 0.95, 1.15, 1.0), casting=29
)
RIDE_BOW = Voice(
    levels_db=(-40, -34, -14, -13, -9, 0, -2, -6),
    times_ms=(60, 200, 500, 900, 1100, 900, 620, 420),
    seconds=2.8,
    soft_db=(0, 0, 0, 1, 2, 3, 6, 9),
    tones=tones(2640, 3370, 4180, 5350, 6120),
    tonal=(0, 0, 0, 0, 0, 0.35, 0.15, 0),
    casting=31,
)
RIDE_BELL = Voice(
    levels_db=(-40, -36, -18, -5, -1, 0, -7, -14),
    times_ms=(60, 200, 600, 1200, 1250, 900, 500, 300),
    seconds=2.8,
    soft_db=(0, 0, 0, 0, 1, 3, 6, 9),
    tones=tones(612, 905, (1240, 1.0), (1630, 0.8), (2380, 1.0), (3145, 0.7), 4220),
    tonal=(0, 0, 0, 0.7, 0.8, 0.6, 0, 0),
    casting=31,
)
SPLASH = Voice(
    levels_db=(-31, -24, -7, -4, -8, 0, -1, 0),
    times_ms=(25, 200, 66, 820, 1000, 850, 760, 690),
    seconds=2.2,
    soft_db=_METAL_SOFT,
    tones=tones(152),
    tonal=(0, 0.9, 0, 0, 0, 0, 0, 0),
    casting=37,
)
CHINA = Voice(
    levels_db=(-30, -24, -5, -2, 0, -1, -4, -8),
    times_ms=(60, 150, 250, 420, 520, 480, 420, 330),
    seconds=2.0,
    soft_db=_METAL_SOFT,
    casting=41,
    rise_ms=(0.5, 0.5, 1.0, 2.0, 3.0, 4.0, 5.0, 5.0),
)
COWBELL = Voice(
    levels_db=(-43, -40, -22, -10, 0, -6, -12, -20),
    times_ms=(43, 65, 300, 275, 245, 190, 105, 58),
    seconds=0.8,
    soft_db=(0, 0, 0, 0, 0, 3, 6, 9),
    tones=tones(430, 587, (1046, 1.0), (1482, 0.6), 2360, 3120, 4340, 5620, 7240),
    tonal=(0, 0, 0.8, 0.97, 0.97, 0.9, 0.5, 0),
)
WOODBLOCK = Voice(
    levels_db=(-50, -40, -22, -1, 0, -6, -16, -26),
    times_ms=(20, 25, 30, 48, 36, 24, 14, 10),
    seconds=0.3,
    soft_db=(0, 0, 0, 0, 1, 4, 7, 9),
    tones=tones(912, 1635, 2440, 3560),
    tonal=(0, 0, 0, 0.97, 0.95, 0.7, 0, 0),
)
JINGLE = Voice(
    levels_db=(-60, -55, -40, -34, -22, -9, 0, -1),
    times_ms=(20, 20, 30, 40, 60, 110, 120, 100),
    seconds=0.3,
    soft_db=(0, 0, 0, 0, 0, 2, 4, 6),
    casting=53,
)
