"""Fits a velocity curve to recorded strikes, so that they reach the layers they should."""

from drumcore.kit.lookup import articulation_of
from drumcore.kit.values import Kit
from drumcore.layers.dynamics import target_of
from drumcore.touch.curve_fit import Fit, Strikes, entering, fit
from drumcore.touch.curves import curve_line, curve_table
from drumcore.value import Value


class Fitted(Value):
    """The fitted curve: its nodes, its output for each velocity, and its drawing."""

    fit: Fit
    table: tuple[int, ...]
    line: tuple[float, ...]


def fit_curve(kit: Kit, articulation_id: str, strikes: Strikes, *, everything: bool, input_id: str) -> Fitted:
    """Fits a curve to strikes of an articulation: the input's curve where `everything`, otherwise the piece's or
    articulation's curve, which follows the input's.
    """
    _, articulation = articulation_of(kit, articulation_id)
    target = target_of(articulation)
    played = strikes if everything else entering(kit, input_id, strikes)
    found = fit(played, articulation.layers, target.lowest_centre if target else None)
    return Fitted(fit=found, table=curve_table(found.curve), line=curve_line(found.curve))
