"""Whether one series rises with another."""

from collections.abc import Sequence

from scipy.stats import rankdata


def rank_correlation(xs: Sequence[float], ys: Sequence[float]) -> float:
    """Spearman's rank correlation, 0 where either side does not vary."""
    a, b = rankdata(xs), rankdata(ys)
    a, b = a - a.mean(), b - b.mean()
    size = float((a @ a) * (b @ b)) ** 0.5
    return float(a @ b) / size if size else 0.0
