"""Whether one series rises with another."""

from collections.abc import Iterable, Sequence

import scipy

RISES = 0.55
"""A correlation from which numbers or letters are taken to follow level."""


def rank_correlation(xs: Sequence[float], ys: Sequence[float]) -> float:
    """Spearman's rank correlation; 0 if one side does not vary."""
    a, b = scipy.stats.rankdata(xs), scipy.stats.rankdata(ys)
    a, b = a - a.mean(), b - b.mean()
    size = float((a @ a) * (b @ b)) ** 0.5
    return float(a @ b) / size if size else 0.0


def follows(parts: Iterable[tuple[Sequence[float], Sequence[float]]]) -> float | None:
    """The rank correlation of several (x, y) series, weighted by length; None if there are none."""
    votes = [(rank_correlation(xs, ys), len(xs)) for xs, ys in parts]
    return sum(rho * size for rho, size in votes) / sum(size for _, size in votes) if votes else None


_HOW_OFTEN = (
    (0.95, "as good as always"),
    (0.8, "nearly always"),
    (0.6, "mostly"),
    (0.3, "more often than not"),
    (0.0, "by chance"),
)


def said_of_strength(correlation: float) -> str:
    """A sentence for a rank correlation that decided on a velocity layer, with its value."""
    how_often = next(words for least, words in _HOW_OFTEN if abs(correlation) >= least)
    return f"higher is {'louder' if correlation > 0 else 'quieter'}, {how_often} ({abs(correlation):.2f})"


def said_of_repeat(correlation: float) -> str:
    """A sentence for one that decided on a round robin."""
    return f"higher is no louder ({abs(correlation):.2f})"
