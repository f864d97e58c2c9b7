"""The library: finding, describing, copying, moving to the bin and deleting items of every kind."""

from typing import Annotated

from django.db import transaction
from django.http import HttpRequest
from ninja import Query, Router, Schema
from pydantic import Field

from drumcore.kit.tags import plain_tags
from drumcore.kit.values import Description, Tags
from drumcore.shelf.entries import Entry
from drumcore.shelf.search import Found, Sort, find
from studio.catalogue.kinds import LISTED, listed_of
from studio.catalogue.needed import Cleared, clear_unneeded, freed_by, room, unneeded_now
from studio.catalogue.together import Outcome, Thing, each_of, leaving_with, remove_for_good

router = Router()
AWAY = "away"
"""The address of what is in the bin, of all kinds together."""
MOST_AT_ONCE = 200


class KindCount(Schema):
    """`file` is the suffix of its file form, empty if it has none."""

    kind: str
    noun: str
    count: int
    file: str


class LibraryShown(Schema):
    """The number of items of each kind, and in the bin (`put_away`)."""

    kinds: list[KindCount]
    put_away: int


class Things(Schema):
    things: Annotated[list[Thing], Field(min_length=1, max_length=MOST_AT_ONCE)]


class AwayAsked(Things):
    put_away: bool


class TagsAsked(Things):
    """Tags to add to and remove from several items."""

    add: Tags = ()
    take: Tags = ()


class SaidAsked(Schema):
    name: Annotated[str, Field(min_length=1, max_length=120)] | None = None
    description: Description | None = None
    tags: Tags | None = None


class CopyAsked(Schema):
    name: Annotated[str, Field(min_length=1, max_length=120)] | None = None


class RemovalAsked(Things):
    """With `sessions`, sessions that no kit would use any more are deleted too."""

    sessions: bool = False


class FreedShown(Schema):
    """What deleting items would free: recordings and their bytes, of the `held` recordings they refer to. `sessions`
    are those that no kit would use afterwards.
    """

    held: int
    files: int
    bytes: int
    sessions: list[str]


class DiskShown(Schema):
    """Sizes on disk in bytes: recordings, prepared sounds, results of jobs and previews, uploads, the database, and
    free space.
    """

    recordings: int
    prepared: int
    made: int
    uploads: int
    records: int
    free: int


class Unneeded(Schema):
    files: int
    bytes: int


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
    """What could be cleared. Everything is checked, which takes a while."""
    return _unneeded(unneeded_now())


@router.post("/library/clear", response=Unneeded)
def clear_what_nothing_needs(request: HttpRequest) -> Unneeded:
    return _unneeded(clear_unneeded())


def _unneeded(found: Cleared) -> Unneeded:
    return Unneeded(files=found.files, bytes=found.size)


@router.post("/library/put-away", response=Outcome)
def put_away(request: HttpRequest, asked: AwayAsked) -> Outcome:
    """Moves items to the bin, or restores them."""
    said = "moved to the bin" if asked.put_away else "restored"
    done = each_of(asked.things, lambda thing: listed_of(thing.kind).put_away(thing.id, asked.put_away))
    return done.told(said)


@router.post("/library/tags", response=Outcome)
def tag(request: HttpRequest, asked: TagsAsked) -> Outcome:
    add, take = plain_tags(asked.add), plain_tags(asked.take)

    def one(thing: Thing) -> None:
        listed = listed_of(thing.kind)
        entry = listed.entry(thing.id)
        tags = [each for each in dict.fromkeys((*entry.tags, *add)) if each not in take]
        listed.say(thing.id, None, None, plain_tags(tags))

    return each_of(asked.things, one).told("tagged")


@router.post("/library/freed", response=FreedShown)
def what_that_frees(request: HttpRequest, asked: RemovalAsked) -> FreedShown:
    """What deleting items for good would free; nothing is deleted."""
    leaving, alone = leaving_with(asked.things, sessions=asked.sessions)
    freed = freed_by(leaving)
    return FreedShown(held=freed.held, files=freed.files, bytes=freed.size, sessions=[s.name for s in alone])


@router.post("/library/remove", response=Outcome)
def remove(request: HttpRequest, asked: RemovalAsked) -> Outcome:
    """Deletes items for good, with the recordings that only they needed."""
    return remove_for_good(asked.things, sessions=asked.sessions)


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
    """One page of search results of a kind, or of the bin (`away`)."""
    put_away = kind == AWAY
    listed = LISTED.values() if put_away else [listed_of(kind)]
    return find((entry for each in listed for entry in each.entries(put_away)), asked, tags, sort, start, count)


@router.get("/library/{kind}/{thing_id}", response=Detail)
def detail(request: HttpRequest, kind: str, thing_id: str) -> Detail:
    """One item, where it came from, and what was made from it."""
    return Detail(entry=listed_of(kind).entry(thing_id), related=listed_of(kind).related(thing_id))


@router.post("/library/{kind}/{thing_id}/say", response=Entry)
def say(request: HttpRequest, kind: str, thing_id: str, asked: SaidAsked) -> Entry:
    """Sets the name, description and tags of one item."""
    listed = listed_of(kind)
    listed.entry(thing_id)
    with transaction.atomic():
        listed.say(thing_id, asked.name, asked.description, asked.tags)
    return listed.entry(thing_id)


@router.post("/library/{kind}/{thing_id}/duplicate", response=Entry)
def duplicate(request: HttpRequest, kind: str, thing_id: str, asked: CopyAsked) -> Entry:
    listed = listed_of(kind)
    return listed.entry(listed.duplicate(thing_id, asked.name))
