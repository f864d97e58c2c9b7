"""The kinds of library items, in the order of the library's page."""

from drumcore.refusals import Refusal
from studio.catalogue.grooves import OfGrooves
from studio.catalogue.kept import OfKept
from studio.catalogue.kits import OfKits
from studio.catalogue.listed import Listed
from studio.catalogue.sessions import OfSessions
from studio.shelves.kinds import CURVES, HOSTS, MAPS, PIECES, PLANS, READINGS, SPACES, TREATMENTS

LISTED: dict[str, Listed] = {
    listed.kind: listed
    for listed in (
        OfKits(),
        OfKept(PIECES),
        OfKept(TREATMENTS),
        OfKept(SPACES),
        OfGrooves(),
        OfKept(MAPS),
        OfKept(CURVES),
        OfKept(PLANS),
        OfKept(HOSTS),
        OfSessions(),
        OfKept(READINGS),
    )
}


def listed_of(kind: str) -> Listed:
    if kind not in LISTED:
        raise Refusal(f"The library has no {kind[:40]}; it has {', '.join(LISTED)}.")
    return LISTED[kind]
