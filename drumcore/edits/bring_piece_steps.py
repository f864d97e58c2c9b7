"""The steps of bringing in a piece: its microphones get names of this kit, its articulations replace others or are
added, and its feeds enter channels that exist.

The request is a value (`bring_piece_values.BringPiece`). Whatever cannot be done raises Refusal with a sentence.
"""

from collections.abc import Iterable, Mapping

from drumcore.edits.bring_piece_values import BringPiece, Entering
from drumcore.edits.build_pieces import free_name
from drumcore.edits.takes import with_flipped
from drumcore.kit.lookup import free_id, piece_of, pieces_of, stopping_only
from drumcore.kit.values import Articulation, Feed, Kit, Mic, MicKind, Piece, Placed, Routing, Side, slug
from drumcore.notes.standard import free_note
from drumcore.refusals import Refusal
from drumcore.routing.default_routing import mics_heard, own_channel, route_pieces


def chosen(edit: BringPiece) -> Piece:
    """The incoming piece with the chosen articulations and microphones. Raises Refusal if nothing is left of it."""
    (piece,) = edit.alone.pieces
    articulations = tuple(s for s in piece.articulations if edit.articulations is None or s.id in edit.articulations)
    if not articulations:
        raise Refusal(f"No articulation of {piece.name} is chosen; choose one.")
    left = {entering.mic for entering in edit.mics if not entering.taken}
    articulations = tuple(_heard_without(articulation, left) for articulation in articulations)
    there = {articulation.id for articulation in articulations}
    piece = piece.but(articulations=articulations, own_mics=tuple(m for m in piece.own_mics if m not in left))
    if not mics_heard(piece):
        raise Refusal(f"No microphone of {piece.name} that recorded it is chosen; choose one.")
    own = {entering.mic for entering in edit.mics if entering.own and entering.taken}
    heard = mics_heard(piece)
    own_mics = (*piece.own_mics, *(mic for mic in heard if mic in own and mic not in piece.own_mics))
    elsewhere = {entering.mic for entering in edit.mics if entering.channel}
    return stopping_only(piece.but(own_mics=tuple(m for m in own_mics if m not in elsewhere)), there)


def _heard_without(articulation: Articulation, left: set[str]) -> Articulation:
    """An articulation without some microphones; takes that only these had recorded are dropped."""
    if not left:
        return articulation
    takes = tuple(
        take.but(recordings=heard)
        for take in articulation.takes
        if (heard := tuple(r for r in take.recordings if r.mic not in left))
    )
    there = {take.id for take in takes}
    layers = tuple(y.but(takes=tuple(i for i in y.takes if i in there)) for y in articulation.layers)
    return articulation.but(takes=takes, layers=tuple(y for y in layers if y.takes))


def matches(old: Piece, new: Piece) -> dict[str, str]:
    """Which incoming articulation replaces which: by equal name, then the main one for the main one."""
    by_name = {articulation.name.casefold(): articulation.id for articulation in old.articulations}
    found = {s.id: by_name[s.name.casefold()] for s in new.articulations if s.name.casefold() in by_name}
    if old.articulations and new.articulations:
        main, its = new.articulations[0].id, old.articulations[0].id
        if main not in found and its not in found.values():
            found[main] = its
    return found


def joined_mics(kit: Kit, edit: BringPiece, heard: Iterable[str]) -> tuple[tuple[Mic, ...], dict[str, str]]:
    """The incoming microphones under free ids, and the new id of each old one. A merged microphone gets the id of the
    one it joins. Raises Refusal if their widths differ, or if two merge with the same one.
    """
    here = {mic.id: mic for mic in kit.mics}
    joins = {entering.mic: entering.joins for entering in edit.mics if entering.joins}
    taken, names = set(here), {mic.name for mic in kit.mics}
    came: list[Mic] = []
    called: dict[str, str] = {}
    wanted = set(heard)
    for mic in edit.alone.mics:
        if mic.id not in wanted:
            continue
        if mic.id in joins:
            there = here.get(joins[mic.id])
            if there is None:
                raise Refusal(f"This kit has no microphone “{joins[mic.id]}”; it may have been deleted.")
            if there.width is not mic.width:
                raise Refusal(
                    f"{mic.name} is {mic.width.value} and {there.name} is {there.width.value}; they cannot be combined."
                )
            if there.id in called.values():
                raise Refusal(f"Two microphones cannot both use {there.name}; give one of them its own.")
            called[mic.id] = there.id
            continue
        name = mic.name if mic.name not in names else f"{mic.name} of {edit.of}" if edit.of else mic.name
        name = name if name not in names else free_name(name, names)
        called[mic.id] = free_id(slug(name), taken)
        taken.add(called[mic.id])
        names.add(name)
        came.append(mic.but(id=called[mic.id], name=name))
    return tuple(came), called


def under_their_names(piece: Piece, called: Mapping[str, str], flipped: set[str]) -> Piece:
    """A piece whose recordings use this kit's microphone ids; recordings of the microphones in `flipped` change
    polarity.
    """

    def recordings(articulation: Articulation) -> Articulation:
        takes = tuple(
            take.but(
                recordings=tuple(
                    (with_flipped(r, Side.BOTH) if r.mic in flipped else r).but(mic=called[r.mic])
                    for r in take.recordings
                )
            )
            for take in articulation.takes
        )
        return articulation.but(takes=takes)

    return piece.but(
        articulations=tuple(recordings(articulation) for articulation in piece.articulations),
        own_mics=tuple(called[mic] for mic in piece.own_mics if mic in called),
    )


def named_anew(kit: Kit, piece: Piece, piece_id: str, stands_for: Mapping[str, str]) -> Piece:
    """The piece and its articulations under ids of this kit; an articulation that replaces another gets the other's id."""
    taken = {a.id for p in pieces_of(kit) if p.id != piece_id for a in p.articulations} | set(stands_for.values())
    called: dict[str, str] = {}
    for articulation in piece.articulations:
        found = stands_for.get(articulation.id) or free_id(f"{piece_id}/{slug(articulation.name)}", taken)
        taken.add(found)
        called[articulation.id] = found
    return piece.but(
        id=piece_id,
        articulations=tuple(
            articulation.but(
                id=called[articulation.id],
                chokes=tuple(s.but(articulation=called[s.articulation]) for s in articulation.chokes),
            )
            for articulation in piece.articulations
        ),
    )


def in_its_place(newcomer: Piece, old: Piece, edit: BringPiece, original: Mapping[str, str]) -> Piece:
    """Keeps what the replaced piece had: its chokes, and its curves if the incoming ones are not wanted. `original`
    gives the incoming articulations by their ids in this kit.
    """
    was = {articulation.id: articulation for articulation in old.articulations}

    def articulation(now: Articulation) -> Articulation:
        before = was.get(now.id) if now.id in original else None
        if before is None:
            return now
        kept = now.but(chokes=before.chokes)
        return kept if edit.touch else kept.but(curve=before.curve, whole=before.whole)

    changed = newcomer.but(
        articulations=tuple(articulation(a) for a in newcomer.articulations),
        hand_stop_ms=old.hand_stop_ms,
        level_db=old.level_db,
    )
    return changed if edit.touch else changed.but(curve=old.curve, tracking=old.tracking)


def untouched(piece: Piece) -> Piece:
    """A piece with default touch settings."""
    plain = Piece(id=piece.id, name=piece.name, family=piece.family, articulations=())
    articulations = tuple(articulation.but(curve=None) for articulation in piece.articulations)
    return piece.but(curve=None, tracking=plain.tracking, articulations=articulations)


def notes_for(kit: Kit, edit: BringPiece, piece: Piece, here: Mapping[str, str]) -> tuple[Placed, ...]:
    """The kit's notes with the incoming piece on its notes; `here` gives the articulations' ids in this kit by their
    ids in the other.
    """
    placed = kit.notes.placed
    main = piece.articulations[0].id
    if edit.instead_of:
        gone = {a.id for a in piece_of(kit, edit.instead_of).articulations} - {a.id for a in piece.articulations}
        kept = (p.but(articulation=main) if p.articulation in gone and edit.rest_to_main else p for p in placed)
        return tuple(dict.fromkeys(p for p in kept if p.articulation not in gone))
    if edit.together_with:
        beside = piece_of(kit, edit.together_with)
        stands_for = {old: here[new] for new, old in matches(beside, chosen(edit)).items()}
        theirs = {articulation.id for articulation in beside.articulations}
        added = (p.but(articulation=stands_for.get(p.articulation, main)) for p in placed if p.articulation in theirs)
        return tuple(dict.fromkeys((*placed, *added)))
    on = free_notes(kit, edit) if edit.notes is None else {n.articulation: n.note for n in edit.notes}
    added = (
        Placed(note=note, articulation=here[articulation]) for articulation, note in on.items() if articulation in here
    )
    return tuple(dict.fromkeys((*placed, *added)))


def free_notes(kit: Kit, edit: BringPiece) -> dict[str, int]:
    """A free note for each articulation of the incoming piece, as long as there are free notes."""
    (whole,) = edit.alone.pieces
    taken = {placed.note for placed in kit.notes.placed}
    found: dict[str, int] = {}
    for articulation in whole.articulations:
        note = free_note(whole, articulation.name, taken)
        if note is not None:
            found[articulation.id] = note
            taken.add(note)
    return found


def routed(kit: Kit, grown: Kit, edit: BringPiece, piece: Piece, called: Mapping[str, str]) -> Routing:
    """The routing with the incoming piece's feeds. Its own microphones feed its channel; shared ones feed the kit's
    shared channels at the replaced piece's levels, unless the edit says otherwise.
    """
    mics = {mic.id: mic for mic in grown.mics}
    source_mics = {mic.id: mic for mic in edit.alone.mics}
    back = {now: then for then, now in called.items()}
    asked = {called[entering.mic]: entering for entering in edit.mics if entering.mic in called}
    old = piece_of(kit, edit.instead_of) if edit.instead_of else None
    theirs = [feed for feed in kit.routing.feeds if old is not None and feed.piece == old.id]
    feeds = [feed for feed in kit.routing.feeds if feed not in theirs]
    channel = own_channel(kit, old) if old is not None else None
    heard = [mic for mic in mics_heard(piece) if mic in called.values()]
    own = [mic for mic in heard if mic in piece.own_mics]
    if channel is not None and not own:
        # A piece without a microphone of its own is heard through overheads, or else through whatever recorded it.
        far = [mic for mic in heard if mics[mic].kind is MicKind.OVERHEAD]
        own = (far or heard)[:1]

    def carried(mic: str) -> float:
        """The level that a merged microphone had in its own kit."""
        return source_mics[back[mic]].gain_db - mics[mic].gain_db if _joins(edit, back[mic]) else 0.0

    own = [mic for mic in own if not goes_elsewhere(asked.get(mic))]
    feeds += [
        Feed(piece=piece.id, mic=mic, channel=channel.id, level_db=carried(mic)) for mic in own if channel is not None
    ]
    channels = {each.id for each in grown.routing.channels}
    for mic, entering in asked.items():
        if goes_elsewhere(entering) and mic in heard:
            if entering.channel not in channels:
                raise Refusal(f"This kit has no channel “{entering.channel}”; it may have been deleted.")
            feeds.append(Feed(piece=piece.id, mic=mic, channel=entering.channel, level_db=carried(mic)))
    before = {feed.channel: feed for feed in reversed(theirs)}
    routing = route_pieces((piece,), grown.but(routing=grown.routing.but(feeds=tuple(feeds))))
    # A channel that gathers is the kit's own: into it a microphone goes as those of the replaced piece did.
    gathering = {each.id for each in grown.routing.channels if each.gathers is not None}
    explicit = {(feed.piece, feed.mic, feed.channel) for feed in feeds if feed.channel not in gathering}

    def levelled(feed: Feed) -> Feed:
        if feed.piece != piece.id or (feed.piece, feed.mic, feed.channel) in explicit:
            return feed
        level, on = carried(feed.mic), True
        if feed.channel in before and channel is not None and feed.channel != channel.id:
            level, on = level + before[feed.channel].level_db, before[feed.channel].on
        return feed.but(level_db=level, on=on)

    return routing.but(feeds=tuple(levelled(feed) for feed in routing.feeds))


def _joins(edit: BringPiece, mic: str) -> bool:
    return any(entering.mic == mic and entering.joins for entering in edit.mics)


def goes_elsewhere(entering: "Entering | None") -> bool:
    """Whether the edit names a channel for a microphone."""
    return entering is not None and entering.channel != ""


def treated_alike(kit: Kit, edit: BringPiece, piece: Piece) -> Kit:
    """The kit with the incoming channel's treatments, and with its level, pan, and sends to buses of the same name."""
    (source,) = edit.alone.pieces
    mine, its = own_channel(kit, piece), own_channel(edit.alone, source)
    if mine is None or its is None:
        return kit
    changed = mine
    if edit.treatment:
        changed = changed.but(treatments=its.treatments, treated=its.treated)
    if edit.balance:
        there = {bus.name.casefold(): bus.id for bus in kit.routing.buses}
        named = {bus.id: bus.name.casefold() for bus in edit.alone.routing.buses}
        sends = tuple(s.but(bus=there[named[s.bus]]) for s in its.sends if named.get(s.bus) in there)
        changed = changed.but(level_db=its.level_db, pan=its.pan, sends=sends)

    channels = tuple(changed if channel.id == mine.id else channel for channel in kit.routing.channels)
    return kit.but(routing=kit.routing.but(channels=channels))
