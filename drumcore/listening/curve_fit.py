"""A curve fitted to what somebody played on a kit: past the curves their strokes pass, onto the layers they play."""

from drumcore.kit.lookup import articulation_of
from drumcore.kit.values import Kit
from drumcore.layers.dynamics import target_of
from drumcore.touch.curve_fit import Fit, Strokes, entering, fit
from drumcore.touch.curves import curve_line, curve_table
from drumcore.value import Value


class Fitted(Value):
    """The fit, with its curve as what plays for each velocity, and as it is drawn."""

    fit: Fit
    table: tuple[int, ...]
    line: tuple[float, ...]


def fit_stroke(kit: Kit, articulation_id: str, strokes: Strokes, *, everything: bool, input_id: str) -> Fitted:
    """Fits the curve of a piece or a stroke, or of `everything` that comes in from an input, to strokes of an
    articulation. A curve of a piece or a stroke is entered by what the curve of everything lets through."""
    _, stroke = articulation_of(kit, articulation_id)
    target = target_of(stroke)
    played = strokes if everything else entering(kit, input_id, strokes)
    found = fit(played, stroke.layers, target.lowest_centre if target else None)
    return Fitted(fit=found, table=curve_table(found.curve), line=curve_line(found.curve))
