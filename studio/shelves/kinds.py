"""The kinds of saved items. Another kind is a value of the core's and an entry here."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from drumcore.describing.edits import kind_name
from drumcore.formats.kept_file import (
    CURVE_FILE,
    HOST_FILE,
    MAP_FILE,
    PLAN_FILE,
    READING_FILE,
    SPACE_FILE,
    TREATMENT_FILE,
    KeptFile,
)
from drumcore.kit.summary import KitSummary, summary
from drumcore.kit.values import Curve, SavedMap
from drumcore.notes.maps import STANDARD_NAME
from drumcore.recordings.guidance import SavedReading
from drumcore.routing.hosts import HOSTS as SHIPPED_HOSTS
from drumcore.routing.hosts import Host, host_outputs
from drumcore.routing.plans import RoutingPlan
from drumcore.routing.shipped import PLANS as SHIPPED_PLANS
from drumcore.shelf.entries import counted
from drumcore.shelf.kept_piece import KeptPiece
from drumcore.simulated.electronic_kits import ELECTRONIC_KITS, map_of
from drumcore.spaces.kept import KeptSpace
from drumcore.spaces.shipped import SHIPPED as SHIPPED_SPACES
from drumcore.treatments.kept import KeptTreatments
from drumcore.treatments.shipped import SHIPPED
from drumcore.value import Value
from studio.shelves.models import Kept

STANDARD_MAP = "standard"


@dataclass(frozen=True)
class Shipped:
    """An item that ships: it has a name and cannot be changed. With `value` None it is made for each kit."""

    id: str
    name: str
    value: Value | None


@dataclass(frozen=True)
class Says:
    """What the library shows of an item: how much it holds, a description, and further search words."""

    figures: str = ""
    description: str = ""
    words: tuple[str, ...] = ()


@dataclass(frozen=True)
class SavedKind:
    """`plural` is its name in URLs, `noun` its name in sentences; `named` writes a name into values that hold one. A
    kind that is `carried` has a file form. `said_of` describes a value for the library. A kind that is `summed` is
    large: a summary is stored for lists, which do not contain the value.
    """

    plural: str
    noun: str
    value: type[Value]
    shipped: Callable[[], Iterable[Shipped]] = lambda: ()
    named: Callable[[Any, str], Value] = lambda value, name: value
    carried: KeptFile[Any] | None = None
    said_of: Callable[[Any], Says] = lambda value: Says()
    summed: Callable[[Any], KitSummary] | None = None

    @property
    def large(self) -> bool:
        return self.summed is not None

    def says(self, found: "Shipped | Kept") -> Says:
        """Says that an item is made for each kit."""
        if isinstance(found, Shipped):
            return self.said_of(found.value) if found.value is not None else Says("made for each kit")
        if self.large:
            return Says(**{**found.summary["says"], "words": tuple(found.summary["says"]["words"])})
        return self.said_of(self.value.model_validate(found.data))


def _maps() -> Iterable[Shipped]:
    yield Shipped(STANDARD_MAP, STANDARD_NAME, None)
    yield from (Shipped(kit.id, kit.name, map_of(kit)) for kit in ELECTRONIC_KITS)


def _of_map(found: SavedMap) -> Says:
    notes = len({entry.note for entry in found.entries})
    families = dict.fromkeys(entry.family.value for entry in found.entries)
    return Says(counted(notes, "note"), words=tuple(families))


def _of_treatments(found: KeptTreatments) -> Says:
    kinds = tuple(treatment.kind for treatment in found.treatments)
    return Says(", ".join(kind_name(kind) for kind in kinds), found.says, kinds)


def _of_space(found: KeptSpace) -> Says:
    return Says(found.space.kind, found.says, (found.space.kind,))


MAPS = SavedKind("maps", "map", SavedMap, _maps, lambda found, name: found.but(name=name), MAP_FILE, _of_map)
CURVES = SavedKind("curves", "curve", Curve, carried=CURVE_FILE, said_of=lambda c: Says(counted(len(c.nodes), "node")))
READINGS = SavedKind(
    "readings",
    "saved reading",
    SavedReading,
    carried=READING_FILE,
    said_of=lambda found: Says(counted(len(found.rulings), "ruling")),
)
TREATMENTS = SavedKind(
    "treatments",
    "treatment",
    KeptTreatments,
    lambda: (Shipped(one.id, one.name, one.kept) for one in SHIPPED),
    carried=TREATMENT_FILE,
    said_of=_of_treatments,
)
SPACES = SavedKind(
    "spaces",
    "reverb or echo",
    KeptSpace,
    lambda: (Shipped(one.id, one.name, one.kept) for one in SHIPPED_SPACES),
    carried=SPACE_FILE,
    said_of=_of_space,
)
PLANS = SavedKind(
    "plans",
    "plan",
    RoutingPlan,
    lambda: (Shipped(one.id, one.name, one.plan) for one in SHIPPED_PLANS),
    carried=PLAN_FILE,
    said_of=lambda found: Says(counted(len(found.rules), "rule")),
)
HOSTS = SavedKind(
    "hosts",
    "host",
    Host,
    lambda: (Shipped(identifier, host.name, host) for identifier, host in SHIPPED_HOSTS.items()),
    lambda found, name: found.but(name=name),
    carried=HOST_FILE,
    said_of=lambda found: Says(counted(len(host_outputs(found)), "output")),
)


def _of_piece(found: KeptPiece) -> Says:
    kit = found.kit
    takes = sum(len(articulation.takes) for piece in kit.pieces for articulation in piece.articulations)
    articulations = sum(len(piece.articulations) for piece in kit.pieces)
    figures = (
        f"{counted(articulations, 'articulation')}, {counted(takes, 'take')}, {counted(len(kit.mics), 'microphone')}"
    )
    families = tuple(piece.family.value for piece in kit.pieces)
    return Says(figures, words=(*families, *(mic.name for mic in kit.mics), found.of))


PIECES = SavedKind(
    "pieces",
    "piece",
    KeptPiece,
    named=lambda found, name: found.but(kit=found.kit.but(name=name)),
    said_of=_of_piece,
    summed=lambda found: summary(found.kit),
)
KINDS = (PIECES, TREATMENTS, SPACES, MAPS, CURVES, PLANS, HOSTS, READINGS)
