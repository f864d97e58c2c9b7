"""The curve presets that ship."""

from drumcore.kit.values import STRAIGHT, Curve, Node
from drumcore.value import Value


class CurveShape(Value):
    id: str
    name: str
    says: str
    curve: Curve


def _curve(*nodes: tuple[int, int] | tuple[int, int, float]) -> Curve:
    return Curve(nodes=tuple(Node(x=n[0], y=n[1], bend=n[2] if len(n) > 2 else 0.0) for n in nodes))


def _steps(*levels: int) -> Curve:
    """Steps of equal width that each play one velocity."""
    width = 127 / len(levels)
    nodes: list[tuple[int, int]] = [(0, 0), (1, levels[0])]
    for number, level in enumerate(levels):
        end = 127 if number == len(levels) - 1 else round(width * (number + 1))
        nodes.append((end, level))
        if end < 127:
            nodes.append((end + 1, levels[number + 1]))
    return _curve(*nodes)


SHAPES = (
    CurveShape(id="straight", name="Straight", says="Velocity out equals velocity in.", curve=STRAIGHT),
    CurveShape(
        id="quiet-floor",
        name="Minimum velocity",
        says="Strikes below velocity 16 are ignored; the others play as they come.",
        curve=_curve((0, 0), (15, 0), (16, 14), (127, 127)),
    ),
    CurveShape(
        id="one-level",
        name="Fixed velocity",
        says="Every strike plays at velocity 100.",
        curve=_curve((0, 0), (1, 100), (127, 100)),
    ),
    CurveShape(
        id="narrow",
        name="Narrow range",
        says="Soft strikes play at 48 and the hardest at 112.",
        curve=_curve((0, 0), (1, 48), (127, 112)),
    ),
    CurveShape(
        id="lift",
        name="Soft",
        says="Soft strikes play harder: for a light touch.",
        curve=_curve((0, 0, 0.45), (127, 127)),
    ),
    CurveShape(
        id="sag",
        name="Hard",
        says="Only hard strikes play hard: for a heavy touch.",
        curve=_curve((0, 0, -0.45), (127, 127)),
    ),
    CurveShape(
        id="three-steps",
        name="Three steps",
        says="Plays one of three velocities: 40, 80 or 120.",
        curve=_steps(40, 80, 120),
    ),
    CurveShape(
        id="four-steps",
        name="Four steps",
        says="Plays one of four velocities: 30, 62, 94 or 124.",
        curve=_steps(30, 62, 94, 124),
    ),
)
