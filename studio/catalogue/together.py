"""One action on several library items of any kinds. If some are refused, the reasons are given and the others are done."""

from collections.abc import Callable
from dataclasses import dataclass

from django.db import transaction
from pydantic import BaseModel

from drumcore.refusals import Refusal
from drumcore.shelf.entries import counted, sized
from studio.catalogue.kinds import listed_of
from studio.catalogue.models import PreviewMade
from studio.catalogue.needed import Leaving, clear, held_by, remove_parts
from studio.catalogue.previews import forget_of
from studio.kits.models import KitRecord
from studio.people.rows import number_of
from studio.sessions.models import Session
from studio.shelves.kinds import KINDS
from studio.shelves.models import Kept


class Thing(BaseModel):
    kind: str
    id: str


class Outcome(BaseModel):
    """The outcome in a sentence, with reasons for what was refused."""

    said: str
    refused: list[str] = []


@dataclass(frozen=True)
class Applied:
    """The names of items that were done, and reasons for the others."""

    things: list[Thing]
    names: list[str]
    refused: list[str]

    def told(self, done: str, more: str = "") -> Outcome:
        """The outcome as a sentence. Raises Refusal if nothing was done."""
        if not self.names:
            raise Refusal(self.refused[0] if len(self.refused) == 1 else f"{self.refused[0]} Nothing was {done}.")
        one = len(self.names) == 1
        which = self.names[0] if one else counted(len(self.names), "thing")
        return Outcome(said=f"{which} {'was' if one else 'were'} {done}{more}.", refused=self.refused)


def each_of(things: list[Thing], act: Callable[[Thing], None]) -> Applied:
    """Applies an action to each item; refused items are reported and the others are done."""
    done = Applied([], [], [])
    for thing in things:
        try:
            name = listed_of(thing.kind).entry(thing.id).name
            act(thing)
        except Refusal as refusal:
            done.refused.append(str(refusal))
        else:
            done.things.append(thing)
            done.names.append(name)
    return done


def leaving_with(things: list[Thing], *, sessions: bool) -> tuple[Leaving, list[Session]]:
    """Everything deleted along with some items, and the sessions that no kit would use afterwards; with `sessions`
    these are deleted too.
    """

    def numbers(kinds: set[str]) -> list[int]:
        return [n for thing in things if thing.kind in kinds and (n := number_of(thing.id)) is not None]

    asked = [thing.id for thing in things if thing.kind == "kits"]
    kits = tuple(KitRecord.objects.filter(id__in=asked).values_list("id", flat=True))
    kept = Kept.objects.filter(id__in=numbers({kind.plural for kind in KINDS})).values_list("id", flat=True)
    chosen = tuple(Session.objects.filter(id__in=numbers({"sessions"})).values_list("id", flat=True))
    theirs = Session.objects.filter(kits__in=kits).distinct().defer("reading", "compared")
    others = KitRecord.objects.exclude(id__in=kits)
    alone = [s for s in theirs if s.id not in chosen and not others.filter(sessions=s).exists()]
    going = (*chosen, *(s.id for s in alone if sessions))
    return Leaving(kits=kits, kept=tuple(kept), sessions=going), alone


def remove_for_good(things: list[Thing], *, sessions: bool) -> Outcome:
    """Deletes items for good, with the recordings that only they needed; with `sessions` also the sessions that no kit
    would use.
    """
    with transaction.atomic():
        leaving, alone = leaving_with(things, sessions=sessions)
        among = held_by(leaving)
        going = [*things, *(Thing(kind="sessions", id=str(s.id)) for s in alone if sessions)]
        done = each_of(going, lambda thing: listed_of(thing.kind).remove(thing.id))
    # The items are deleted; their recordings follow in short steps. If that is interrupted, "Clear" finds them.
    remove_parts(among)
    cleared = clear(among, young_too=True)
    for thing in done.things:
        forget_of(list(PreviewMade.objects.filter(kind=thing.kind, item=thing.id)))
    freed = f"; {counted(cleared.files, 'recording')} cleared, {sized(cleared.size)} free" if cleared.files else ""
    return done.told("deleted for good", freed)
