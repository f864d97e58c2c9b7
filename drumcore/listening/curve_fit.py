"""A curve fitted to what somebody played on a kit: past the curves their strikes pass, onto the layers they play."""

from drumcore.kit.lookup import articulation_of
from drumcore.kit.values import Kit
from drumcore.layers.dynamics import target_of
from drumcore.touch.curve_fit import Fit, Strikes, entering, fit
from drumcore.touch.curves import curve_line, curve_table
from drumcore.value import Value


class Fitted(Value):
    """The fit, with its curve as what plays for each velocity, and as it is drawn."""

    fit: Fit
    table: tuple[int, ...]
    line: tuple[float, ...]


def fit_curve(kit: Kit, articulation_id: str, strikes: Strikes, *, everything: bool, input_id: str) -> Fitted:
    """Fits a curve to strikes of an articulation: the curve of the input where `everything`, else that of the piece or the
    articulation, which receives what the input's curve lets through."""
    _, articulation = articulation_of(kit, articulation_id)
    target = target_of(articulation)
    played = strikes if everything else entering(kit, input_id, strikes)
    found = fit(played, articulation.layers, target.lowest_centre if target else None)
    return Fitted(fit=found, table=curve_table(found.curve), line=curve_line(found.curve))
