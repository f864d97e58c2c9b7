"""Natural breaks: layers from loudness, for names that do not say the velocity layer."""

from collections.abc import Sequence
from itertools import pairwise

import numpy as np

GOOD_FIT = 0.92
"""A fit that is good enough to choose a number of layers by itself."""
MOST_LAYERS = 12


def natural_breaks(levels_db: Sequence[float], count: int | None = None) -> list[list[int]]:
    """Groups the indices of `levels_db`, softest first, so that the squared deviation within groups is least.

    Source: Jenks (1967), by dynamic programming over the sorted levels. Without a `count`, the smallest number of
    groups is used whose goodness of variance fit reaches 0.92 and that averages at least two takes per group. Takes
    within 3 dB in total stay one group.
    """
    order = sorted(range(len(levels_db)), key=lambda i: levels_db[i])
    x = np.array([levels_db[i] for i in order], dtype=np.float64)
    n = len(x)
    if n == 0:
        return []
    if count is None and (n < 3 or x[-1] - x[0] <= 3.0):
        return [order]
    sums, squares = np.concatenate([[0.0], np.cumsum(x)]), np.concatenate([[0.0], np.cumsum(x * x)])

    def cost(a: int, b: int) -> float:
        """Squared deviation of x[a:b] from its mean."""
        return float(squares[b] - squares[a] - (sums[b] - sums[a]) ** 2 / (b - a))

    most = min(count or max(2, min(MOST_LAYERS, n // 2)), n)
    best = [[cost(0, b) if b else 0.0 for b in range(n + 1)]]
    cuts: list[list[int]] = [[0] * (n + 1)]
    for k in range(1, most):
        row, cut = [float("inf")] * (n + 1), [0] * (n + 1)
        for b in range(k + 1, n + 1):
            found = min((best[k - 1][a] + cost(a, b), a) for a in range(k, b))
            row[b], cut[b] = found
        best.append(row)
        cuts.append(cut)
    total = best[0][n] or 1.0
    groups = most if count else next((k + 1 for k in range(most) if 1.0 - best[k][n] / total >= GOOD_FIT), most)
    edges = [n]
    for k in range(groups - 1, 0, -1):
        edges.append(cuts[k][edges[-1]])
    edges.append(0)
    return [[order[i] for i in range(a, b)] for a, b in pairwise(reversed(edges))]


def goodness_of_fit(levels_db: Sequence[float], groups: Sequence[Sequence[int]]) -> float:
    """Goodness of variance fit: 1 − (squared deviation within groups) / (squared deviation of all). Source: Jenks (1967)."""
    x = np.asarray(levels_db, dtype=np.float64)
    whole = float(np.square(x - x.mean()).sum()) if len(x) else 0.0
    within = sum(float(np.square(x[list(group)] - x[list(group)].mean()).sum()) for group in groups if group)
    return 1.0 - within / whole if whole else 1.0


def fits(levels_db: Sequence[float]) -> list[float]:
    """The goodness of fit with 1, 2, 3… layers, up to the number of takes and at most 12."""
    return [
        goodness_of_fit(levels_db, natural_breaks(levels_db, count))
        for count in range(1, min(MOST_LAYERS, len(levels_db)) + 1)
    ]
