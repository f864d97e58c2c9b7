"""Swing: time is bent inside each pair of eighths or sixteenths, the same for all rows."""

from fractions import Fraction

from drumcore.grooves.beats import exact
from drumcore.grooves.pattern import UNBENT, Pattern

UNITS = {"eighths": Fraction(1, 2), "sixteenths": Fraction(1, 4)}
STRAIGHT = 50


def swung(pattern: Pattern, quarters: Fraction, division: int) -> Fraction:
    """Where a position, in quarter notes from the pattern's beginning, is played.

    The first half of a pair is stretched to s/50, the second shrunk to (100 − s)/50. Pairs are counted from the bar
    line; a last unit without a partner is not bent. Compound metres swing in sixteenths only, and rows of 3, 6 and 12
    to the beat are not bent.
    """
    swing = pattern.swing
    percent = exact(swing.percent)
    if percent == STRAIGHT or division in UNBENT or (pattern.metre.compound and swing.unit == "eighths"):
        return quarters
    unit, bar = UNITS[swing.unit], pattern.metre.bar
    bar_start = bar * (quarters // bar)
    into_bar = quarters - bar_start
    pair_start = 2 * unit * (into_bar // (2 * unit))
    if pair_start + 2 * unit > bar:
        return quarters
    into = into_bar - pair_start
    longer, shorter = percent / 50, (100 - percent) / 50
    bent = into * longer if into <= unit else unit * longer + (into - unit) * shorter
    return bar_start + pair_start + bent
