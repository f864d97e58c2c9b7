"""How a take plays, as data beside its recordings: which of its fields trim it, and whether any does."""

from drumcore.kit.values import Take

TRIMS = (
    "gain_db",
    "pan",
    "tune_cents",
    "inverted",
    "start_trim_ms",
    "end_ms",
    "fade_in_ms",
    "fade_out_ms",
)
"""Fields of `Take`; at its default one leaves the recording as it is."""


def is_trimmed(take: Take) -> bool:
    return any(getattr(take, name) != Take.model_fields[name].default for name in TRIMS)


RANGES: dict[str, tuple[float, float]] = {
    "gain_db": (-24.0, 24.0),
    "pan": (-1.0, 1.0),
    "tune_cents": (-1200.0, 1200.0),
    "start_trim_ms": (-20.0, 100.0),
    "end_ms": (1.0, 120_000.0),
    "fade_in_ms": (0.0, 50.0),
    "fade_out_ms": (0.0, 5000.0),
}
"""As far as a hand trims a take: what a slider offers. A kit may hold more."""
