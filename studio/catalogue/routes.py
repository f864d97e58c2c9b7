"""The library over HTTP: everything found, said, copied, put away and removed, whatever its kind."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated

from django.db import transaction
from django.http import HttpRequest
from ninja import Query, Router, Schema
from pydantic import Field

from drumcore.kit.tags import plain_tags
from drumcore.kit.values import Description, Tags
from drumcore.refusals import Refusal
from drumcore.shelf.entries import Entry, counted, sized
from drumcore.shelf.search import Found, Sort, find
from studio.catalogue.kinds import LISTED, listed_of
from studio.catalogue.models import PreviewMade
from studio.catalogue.needed import (
    Cleared,
    Leaving,
    clear,
    clear_unneeded,
    freed_by,
    held_by,
    remove_parts,
    room,
    unneeded_now,
)
from studio.catalogue.previews import forget_of
from studio.kits.models import KitRecord
from studio.library.models import Session
from studio.rows import number_of
from studio.shelves.kinds import KINDS

router = Router()
AWAY = "away"
"""The address of what is put away, of all kinds together."""
MOST_AT_ONCE = 200


class KindCount(Schema):
    """`file` says how the names of its files end, empty where it has none of its own."""

    kind: str
    noun: str
    count: int
    file: str


class LibraryShown(Schema):
    """How much there is of each kind, and `put_away` of all."""

    kinds: list[KindCount]
    put_away: int


class Thing(Schema):
    kind: str
    id: str


class Things(Schema):
    things: Annotated[list[Thing], Field(min_length=1, max_length=MOST_AT_ONCE)]


class AwayAsked(Things):
    put_away: bool


class TagsAsked(Things):
    """Tags to put on all of some things, and to take off."""

    add: Tags = ()
    take: Tags = ()


class SaidAsked(Schema):
    name: Annotated[str, Field(min_length=1, max_length=120)] | None = None
    description: Description | None = None
    tags: Tags | None = None


class CopyAsked(Schema):
    name: Annotated[str, Field(min_length=1, max_length=120)] | None = None


class RemovalAsked(Things):
    """With `sessions`, those that no kit would be left of go with their kits."""

    sessions: bool = False


class Freed(Schema):
    """What would be free once some things are gone: recordings and their bytes, of the `held` that they have. `sessions` are
    those that no kit would be left of, which may go too."""

    held: int
    files: int
    bytes: int
    sessions: list[str]


class DiskShown(Schema):
    """Bytes on the disk: recordings, sounds made ready to play, what jobs and previews made, uploads, the records, and what is
    free."""

    recordings: int
    prepared: int
    made: int
    uploads: int
    records: int
    free: int


class Unneeded(Schema):
    files: int
    bytes: int


class Told(Schema):
    """How it ended, in a sentence; what was refused says why."""

    said: str
    refused: list[str] = []


class Detail(Schema):
    entry: Entry
    related: list[str]


@router.get("/library", response=LibraryShown)
def library(request: HttpRequest) -> LibraryShown:
    return LibraryShown(
        kinds=[
            KindCount(kind=listed.kind, noun=listed.noun, count=listed.count(), file=listed.file)
            for listed in LISTED.values()
        ],
        put_away=sum(listed.count(put_away=True) for listed in LISTED.values()),
    )


@router.get("/library/room", response=DiskShown)
def room_taken(request: HttpRequest) -> DiskShown:
    return DiskShown.model_validate(vars(room()))


@router.get("/library/unneeded", response=Unneeded)
def what_nothing_needs(request: HttpRequest) -> Unneeded:
    """What could be cleared: everything is looked through, which takes its time."""
    return _unneeded(unneeded_now())


@router.post("/library/clear", response=Unneeded)
def clear_what_nothing_needs(request: HttpRequest) -> Unneeded:
    return _unneeded(clear_unneeded())


def _unneeded(found: Cleared) -> Unneeded:
    return Unneeded(files=found.files, bytes=found.size)


@router.post("/library/put-away", response=Told)
def put_away(request: HttpRequest, asked: AwayAsked) -> Told:
    """Put things away, or bring them back."""
    said = "put away" if asked.put_away else "brought back"
    done = _each(asked.things, lambda thing: listed_of(thing.kind).put_away(thing.id, asked.put_away))
    return done.told(said)


@router.post("/library/tags", response=Told)
def tag(request: HttpRequest, asked: TagsAsked) -> Told:
    add, take = plain_tags(asked.add), plain_tags(asked.take)

    def one(thing: Thing) -> None:
        listed = listed_of(thing.kind)
        entry = listed.entry(thing.id)
        tags = [each for each in dict.fromkeys((*entry.tags, *add)) if each not in take]
        listed.say(thing.id, None, None, plain_tags(tags))

    return _each(asked.things, one).told("tagged")


@router.post("/library/freed", response=Freed)
def what_that_frees(request: HttpRequest, asked: RemovalAsked) -> Freed:
    """What removing things for good would free; nothing is removed."""
    leaving, alone = _leaving(asked)
    freed = freed_by(leaving)
    return Freed(held=freed.held, files=freed.files, bytes=freed.size, sessions=[s.name for s in alone])


@router.post("/library/remove", response=Told)
def remove(request: HttpRequest, asked: RemovalAsked) -> Told:
    """Remove things for good, and the recordings that only they needed."""
    with transaction.atomic():
        leaving, alone = _leaving(asked)
        among = held_by(leaving)
        going = [*asked.things, *(Thing(kind="sessions", id=str(s.id)) for s in alone if asked.sessions)]
        done = _each(going, lambda thing: listed_of(thing.kind).remove(thing.id))
    # They are gone; what only they needed goes in short steps of its own. Where that is interrupted, Clear finds it.
    remove_parts(among)
    cleared = clear(among, young_too=True)
    for thing in done.things:
        forget_of(list(PreviewMade.objects.filter(kind=thing.kind, item=thing.id)))
    freed = f"; {counted(cleared.files, 'recording')} cleared, {sized(cleared.size)} free" if cleared.files else ""
    return done.told("removed for good", freed)


def _leaving(asked: RemovalAsked) -> tuple[Leaving, list[Session]]:
    """What leaves, and the sessions that no kit would be left of."""
    kits = tuple(thing.id for thing in asked.things if thing.kind == "kits")
    numbers = {
        kind: tuple(n for thing in asked.things if thing.kind in kinds and (n := number_of(thing.id)) is not None)
        for kind, kinds in (("kept", {kind.plural for kind in KINDS}), ("sessions", {"sessions"}))
    }
    theirs = Session.objects.filter(kits__in=kits).distinct().defer("reading", "compared")
    others = KitRecord.objects.exclude(id__in=kits)
    alone = [s for s in theirs if s.id not in numbers["sessions"] and not s.kits.filter(id__in=others).exists()]
    sessions = (*numbers["sessions"], *(s.id for s in alone if asked.sessions))
    return Leaving(kits=kits, kept=numbers["kept"], sessions=sessions), alone


@dataclass(frozen=True)
class Done:
    """What was done to, by name, and why the rest was not."""

    things: list[Thing]
    names: list[str]
    refused: list[str]

    def told(self, done: str, more: str = "") -> Told:
        """Raises Refusal where nothing was done."""
        if not self.names:
            raise Refusal(self.refused[0] if len(self.refused) == 1 else f"{self.refused[0]} Nothing was {done}.")
        one = len(self.names) == 1
        which = self.names[0] if one else counted(len(self.names), "thing")
        return Told(said=f"{which} {'was' if one else 'were'} {done}{more}.", refused=self.refused)


def _each(things: list[Thing], act: Callable[[Thing], None]) -> Done:
    """Do something to each; what is refused says why and the others are done."""
    done = Done([], [], [])
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


@router.get("/library/{kind}", response=Found)
def found(
    request: HttpRequest,
    kind: str,
    asked: Annotated[str, Field(max_length=200)] = "",
    tags: list[str] = Query([]),  # type: ignore[type-arg]
    sort: Sort = Sort.CHANGED,
    start: Annotated[int, Field(ge=0)] = 0,
    count: Annotated[int, Field(ge=1, le=500)] = 100,
) -> Found:
    """A stretch of what was found of a kind, or of all that is put away (`away`)."""
    put_away = kind == AWAY
    listed = LISTED.values() if put_away else [listed_of(kind)]
    return find((entry for each in listed for entry in each.entries(put_away)), asked, tags, sort, start, count)


@router.get("/library/{kind}/{thing_id}", response=Detail)
def detail(request: HttpRequest, kind: str, thing_id: str) -> Detail:
    """One thing, and what it came from and was made into."""
    return Detail(entry=listed_of(kind).entry(thing_id), related=listed_of(kind).related(thing_id))


@router.post("/library/{kind}/{thing_id}/say", response=Entry)
def say(request: HttpRequest, kind: str, thing_id: str, asked: SaidAsked) -> Entry:
    """Name, describe and tag one thing."""
    listed = listed_of(kind)
    listed.entry(thing_id)
    with transaction.atomic():
        listed.say(thing_id, asked.name, asked.description, asked.tags)
    return listed.entry(thing_id)


@router.post("/library/{kind}/{thing_id}/duplicate", response=Entry)
def duplicate(request: HttpRequest, kind: str, thing_id: str, asked: CopyAsked) -> Entry:
    listed = listed_of(kind)
    return listed.entry(listed.duplicate(thing_id, asked.name))
