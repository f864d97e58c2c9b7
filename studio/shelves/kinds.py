"""The kinds of things kept under a name. Another kind is a value of the core's and an entry here."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from drumcore.demo.electronic_kits import ELECTRONIC_KITS, map_of
from drumcore.formats.kept_file import HOST_FILE, PLAN_FILE, KeptFile
from drumcore.kit.values import Curve, SavedMap
from drumcore.notes.maps import STANDARD_NAME
from drumcore.recordings.guidance import SavedReading
from drumcore.routing.hosts import HOSTS as SHIPPED_HOSTS
from drumcore.routing.hosts import Host
from drumcore.routing.plans import RoutingPlan
from drumcore.routing.shipped import PLANS as SHIPPED_PLANS
from drumcore.spaces.kept import KeptSpace
from drumcore.spaces.shipped import SHIPPED as SHIPPED_SPACES
from drumcore.treatments.kept import KeptTreatments
from drumcore.treatments.shipped import SHIPPED
from drumcore.value import Value

STANDARD_MAP = "standard"


@dataclass(frozen=True)
class Shipped:
    """One that comes with the product: it has a name and cannot be changed. None is worked out for each kit."""

    id: str
    name: str
    value: Value | None


@dataclass(frozen=True)
class Kind:
    """`plural` is its address, `noun` what it is called in sentences; `named` writes a name into values that hold it. One that
    is `carried` has a file of its own."""

    plural: str
    noun: str
    value: type[Value]
    shipped: Callable[[], Iterable[Shipped]] = lambda: ()
    named: Callable[[Any, str], Value] = lambda value, name: value
    carried: KeptFile[Any] | None = None


def _maps() -> Iterable[Shipped]:
    yield Shipped(STANDARD_MAP, STANDARD_NAME, None)
    yield from (Shipped(kit.id, kit.name, map_of(kit)) for kit in ELECTRONIC_KITS)


MAPS = Kind("maps", "map", SavedMap, _maps, lambda found, name: found.but(name=name))
CURVES = Kind("curves", "curve", Curve)
READINGS = Kind("readings", "saved reading", SavedReading)
TREATMENTS = Kind(
    "treatments", "treatment", KeptTreatments, lambda: (Shipped(one.id, one.name, one.kept) for one in SHIPPED)
)
SPACES = Kind("spaces", "space", KeptSpace, lambda: (Shipped(one.id, one.name, one.kept) for one in SHIPPED_SPACES))
PLANS = Kind(
    "plans",
    "plan",
    RoutingPlan,
    lambda: (Shipped(one.id, one.name, one.plan) for one in SHIPPED_PLANS),
    carried=PLAN_FILE,
)
HOSTS = Kind(
    "hosts",
    "host",
    Host,
    lambda: (Shipped(identifier, host.name, host) for identifier, host in SHIPPED_HOSTS.items()),
    lambda found, name: found.but(name=name),
    carried=HOST_FILE,
)
KINDS = (MAPS, CURVES, READINGS, TREATMENTS, SPACES, PLANS, HOSTS)
