"""Which velocity curve applies at each place, where it was set, and that in words."""

from drumcore.kit.lookup import input_of
from drumcore.kit.values import STRAIGHT, Articulation, Curve, Kit, Piece
from drumcore.touch.curves import curve_line, curve_table
from drumcore.touch.layer_reach import entering_curve, own_curve
from drumcore.value import Value


class InForce(Value):
    """The curve that applies at one place. `own` if it was set there; `says` explains where it comes from otherwise, or
    what does not follow it. `table` is the output for each velocity, `line` the same before rounding.
    """

    curve: Curve
    own: bool
    says: str
    table: tuple[int, ...]
    line: tuple[float, ...]


def _in_force(curve: Curve, own: bool, says: str) -> InForce:
    return InForce(curve=curve, own=own, says=says, table=curve_table(curve), line=curve_line(curve))


def of_everything(kit: Kit) -> InForce:
    others = [known.name for known in kit.inputs if known.curve]
    has = "have a curve of their own" if len(others) > 1 else "has a curve of its own"
    return _in_force(kit.curve, True, f"{' and '.join(others)} {has}." if others else "")


def of_input(kit: Kit, input_id: str) -> InForce:
    """The curve of an input; one the kit does not know follows the curve of all inputs."""
    known = input_of(kit, input_id)
    own = bool(known and known.curve)
    return _in_force(entering_curve(kit, input_id), own, "" if own else "It follows the curve of all inputs.")


def of_piece(piece: Piece) -> InForce:
    return _in_force(piece.curve or STRAIGHT, piece.curve is not None, "" if piece.curve else NO_CURVE)


def of_articulation(piece: Piece, articulation: Articulation) -> InForce:
    follows = f"It follows the curve of {piece.name}." if piece.curve else NO_CURVE
    return _in_force(
        own_curve(piece, articulation), articulation.curve is not None, "" if articulation.curve else follows
    )


NO_CURVE = "It has no curve of its own: velocities are unchanged."
