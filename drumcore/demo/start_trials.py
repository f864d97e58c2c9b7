"""Synthetic strikes with known starts, under everything that can hide a start, to measure how often it is detected."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from drumcore.arrays import Floats
from drumcore.recordings.audio_files import Audio
from drumcore.recordings.measurement import measure
from drumcore.value import Value

SECONDS = 0.9
WITHIN_MS = 1.0
RATES = (44_100, 48_000, 96_000)
SNR_DB = (36.0, 40.0, 50.0, 60.0)
SWELL_DB = -24.0
"""A swell begins where its clean envelope passes this under its peak."""
Generator = np.random.Generator


@dataclass(frozen=True)
class _Strike:
    """A clean strike and its start time, in s."""

    sound: Floats
    start_s: float


class TrialFigures(Value):
    """Results for one kind of trial: how many starts were within 1 ms, and the worst error."""

    kind: str
    tried: int
    within: int
    worst_ms: float
    worst: str

    @property
    def share(self) -> float:
        return self.within / self.tried


def shaped(rng: Generator, rate: int, kind: str, lead_s: float) -> _Strike:
    """A drum of one kind, struck `lead_s` into the file; it rises within 0.05 to 0.7 ms."""
    n = round(SECONDS * rate)
    t = np.arange(n) / rate - lead_s
    after = np.maximum(t, 0.0)
    noise = rng.standard_normal(n)
    rise = 1.0 - np.exp(-after / (rng.uniform(0.02, 0.25) * 1e-3))
    if kind == "kick":
        hz = rng.uniform(45, 65)
        body = np.sin(2 * np.pi * (hz * after + 60 * 0.02 * (1 - np.exp(-after / 0.02))) + 0.4) * np.exp(-after / 0.12)
        sound = body + 0.35 * noise * np.exp(-after / 0.003)
    elif kind == "tom":
        hz = rng.uniform(80, 180)
        body = np.sin(2 * np.pi * hz * after * (1 + 0.1 * np.exp(-after / 0.05)) + 0.3) * np.exp(-after / 0.2)
        sound = body + 0.12 * noise * np.exp(-after / 0.004)
    elif kind == "snare":
        sound = 0.7 * np.sin(2 * np.pi * 190 * after + 0.5) * np.exp(-after / 0.05) + 0.5 * noise * np.exp(
            -after / 0.07
        )
    elif kind == "hat":
        sound = np.diff(noise, prepend=0.0) * np.exp(-after / 0.04)
    else:
        modes = rng.uniform(300, 9000, 60)
        phases = rng.uniform(0, 2 * np.pi, 60)
        sound = np.sin(2 * np.pi * modes[:, None] * after + phases[:, None]).sum(axis=0) * np.exp(-after / 0.4)
    sound = np.where(t >= 0, sound * rise, 0.0)
    return _Strike(sound / np.abs(sound).max(), lead_s)


DRUMS = ("kick", "tom", "snare", "hat", "cymbal")


def _swell(rng: Generator, rate: int, lead_s: float) -> _Strike:
    """A brush or shaker: noise that rises over 4 to 60 ms."""
    n = round(SECONDS * rate)
    t = np.arange(n) / rate - lead_s
    rise_s = rng.uniform(0.004, 0.060)
    envelope = np.where(t < 0, 0.0, np.minimum(1.0, np.maximum(t, 0) / rise_s) ** 2) * np.exp(
        -np.maximum(t - rise_s, 0) / 0.06
    )
    sound = envelope * np.clip(rng.standard_normal(n), -2.5, 2.5)
    heard = np.sqrt(np.convolve(sound**2, np.full(32, 1 / 32), "same"))
    begins = int(np.argmax(heard >= heard.max() * 10 ** (SWELL_DB / 20)))
    return _Strike(sound / np.abs(sound).max(), begins / rate)


def _late_room(rng: Generator, rate: int, lead_s: float) -> _Strike:
    """A distant microphone: direct sound, then a louder room 4 to 25 ms later."""
    dry = shaped(rng, rate, str(rng.choice(DRUMS)), lead_s).sound
    late = round(rng.uniform(0.004, 0.025) * rate)
    tail = rng.standard_normal(round(0.25 * rate)) * np.exp(-np.arange(round(0.25 * rate)) / (0.07 * rate))
    room = np.convolve(dry, tail)[: len(dry)]
    room = np.concatenate([np.zeros(late), room])[: len(dry)]
    sound = dry + room / np.abs(room).max() * rng.uniform(1.0, 2.5)
    return _Strike(sound / np.abs(sound).max(), lead_s)


def _pink(rng: Generator, n: int) -> Floats:
    spectrum = np.fft.rfft(rng.standard_normal(n))
    spectrum[1:] /= np.sqrt(np.arange(1, len(spectrum)))
    spectrum[0] = 0.0
    return np.asarray(np.fft.irfft(spectrum, n))


def _rumble(rng: Generator, n: int, rate: int) -> Floats:
    spectrum = np.fft.rfft(rng.standard_normal(n))
    hz = np.fft.rfftfreq(n, 1 / rate)
    spectrum[(hz > 30) | (hz < 3)] = 0.0
    return np.fft.irfft(spectrum, n)


def _hum(rng: Generator, n: int, rate: int) -> Floats:
    mains = rng.choice([50.0, 60.0])
    t = np.arange(n) / rate
    sound = np.zeros(n)
    for k in (1, 2, 3, 5, 7):
        sound += (rng.uniform(0.1, 1.0) / k) * np.sin(2 * np.pi * mains * k * t + rng.uniform(0, 6.28))
    return sound


def _under(noise: Floats, snr_db: float) -> Floats:
    """Noise with an RMS `snr_db` under a peak of 1."""
    return np.asarray(noise / np.sqrt(np.mean(noise**2)) * 10 ** (-snr_db / 20))


def _with_click(rng: Generator, strike: _Strike, rate: int) -> Floats:
    """Adds a click of under 1 ms, 8 to 40 ms before the strike, at up to half the strike's level."""
    sound = strike.sound.copy()
    at = max(0, round((strike.start_s - rng.uniform(0.008, 0.040)) * rate))
    length = int(rng.integers(1, max(2, round(0.0008 * rate))))
    sound[at : at + length] += rng.uniform(0.08, 0.5) * rng.choice([-1, 1]) * np.hanning(length + 2)[1:-1]
    return sound


Trial = Callable[[Generator, int, float], tuple[Floats, float, str]]


def _plain(noise: Callable[[Generator, int, int], Floats]) -> Trial:
    def make(rng: Generator, rate: int, lead_s: float) -> tuple[Floats, float, str]:
        drum, snr = str(rng.choice(DRUMS)), float(rng.choice(SNR_DB))
        strike = shaped(rng, rate, drum, lead_s)
        return strike.sound + _under(noise(rng, len(strike.sound), rate), snr), strike.start_s, f"{drum}, {snr:.0f} dB"

    return make


def _dc(rng: Generator, rate: int, lead_s: float) -> tuple[Floats, float, str]:
    drum = str(rng.choice(DRUMS))
    strike, offset = shaped(rng, rate, drum, lead_s), float(rng.uniform(0.05, 0.45))
    noisy = strike.sound + _under(rng.standard_normal(len(strike.sound)), 50.0)
    return noisy + offset, strike.start_s, f"{drum}, offset {offset:.2f} of the peak"


def _clicks(rng: Generator, rate: int, lead_s: float) -> tuple[Floats, float, str]:
    drum = str(rng.choice(DRUMS))
    strike = shaped(rng, rate, drum, max(lead_s, 0.045))
    sound = _with_click(rng, strike, rate) + _under(rng.standard_normal(len(strike.sound)), 55.0)
    return sound, strike.start_s, drum


def _made(strike: Callable[[Generator, int, float], _Strike]) -> Trial:
    def make(rng: Generator, rate: int, lead_s: float) -> tuple[Floats, float, str]:
        made, snr = strike(rng, rate, lead_s), float(rng.choice(SNR_DB[1:]))
        return made.sound + _under(rng.standard_normal(len(made.sound)), snr), made.start_s, f"{snr:.0f} dB"

    return make


TRIALS: dict[str, Trial] = {
    "white noise": _plain(lambda rng, n, rate: rng.standard_normal(n)),
    "pink noise": _plain(lambda rng, n, rate: _pink(rng, n)),
    "rumble under 30 Hz": _plain(_rumble),
    "hum": _plain(_hum),
    "offset": _dc,
    "clicks before": _clicks,
    "swells": _made(_swell),
    "late rooms": _made(_late_room),
}


def _trials(kind: str, each: int, seed: int) -> Iterator[tuple[float, str]]:
    """The error of each detected start in ms, and which kind of drum it was."""
    for number in range(each):
        rng = np.random.default_rng([seed, list(TRIALS).index(kind), number])
        rate = int(rng.choice(RATES))
        sound, start_s, said = TRIALS[kind](rng, rate, float(rng.uniform(0.012, 0.30)))
        loud = 10 ** (rng.uniform(-40.0, -3.0) / 20)
        raw = np.round(np.clip(sound * loud, -1.0, 1.0) * (2**23 - 1)).astype(np.int32)[:, None] << 8
        found = measure(Audio(raw, rate, "PCM_24", "")).start_ms
        yield found - start_s * 1000.0, f"{said}, {rate / 1000:g} kHz"


def start_trials(each: int = 200, seed: int = 1) -> tuple[TrialFigures, ...]:
    """Runs `each` trials of every kind, from a seed."""
    figures = []
    for kind in TRIALS:
        tried = list(_trials(kind, each, seed))
        off, said = max(tried, key=lambda one: abs(one[0]))
        within = sum(abs(error) <= WITHIN_MS for error, _ in tried)
        figures.append(TrialFigures(kind=kind, tried=each, within=within, worst_ms=round(off, 2), worst=said))
    return tuple(figures)
