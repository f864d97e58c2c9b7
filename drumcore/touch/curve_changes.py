"""Changes to a curve that findings offer."""

from drumcore.kit.values import Curve, Node
from drumcore.touch.curves import curve_table, curve_value


def lifted_to_reach(curve: Curve, hardest: int) -> Curve:
    """The curve with its part up to `hardest` scaled up, so that a strike of that velocity plays 127."""
    top = curve_value(curve, hardest)
    if hardest >= 127 or top >= 127 or top <= 0 or hardest < 1:
        return curve
    kept = [node.but(y=min(127, round(node.y * 127.0 / top))) for node in curve.nodes if node.x < hardest]
    return Curve(nodes=(*kept, Node(x=hardest, y=127), Node(x=127, y=127)))


def never_falling(curve: Curve) -> Curve:
    """The curve with every node at least as high as those before it, so that a harder strike never plays softer."""
    nodes, highest = [], 0
    for node in curve.nodes:
        highest = max(highest, node.y)
        nodes.append(node.but(y=highest))
    return Curve(nodes=tuple(nodes))


def heard_from(curve: Curve, softest: int) -> Curve:
    """The curve with its minimum velocity lowered to `softest`."""
    table = curve_table(curve)
    first = next((v for v in range(1, 128) if table[v]), None)
    if first is None or first <= softest:
        return curve
    kept = [node for node in curve.nodes if node.x > first or (node.x == first and node.y > 0)]
    start = [Node(x=0, y=0)] if softest <= 1 else [Node(x=0, y=0), Node(x=softest - 1, y=0)]
    begins = Node(x=max(1, softest), y=1)
    return Curve(nodes=(*start, begins, *(node for node in kept if node.x > begins.x)))
