"""Storing kits: every edit makes a version; a stale edit is refused, never overwritten; undo returns to the version
before.
"""

import uuid
import zlib
from collections import OrderedDict
from collections.abc import Iterator
from threading import Lock

from django.db import transaction
from django.db.models import Max, QuerySet
from pydantic import ValidationError

from drumcore.describing.edits import said_of
from drumcore.edits.apply import apply
from drumcore.edits.build_pieces import free_name
from drumcore.edits.rebase import made_on
from drumcore.edits.values import Edit
from drumcore.kit.invariants import hold
from drumcore.kit.json_form import NewerKit, from_parts, part_hashes, to_parts
from drumcore.kit.summary import KitSummary, summary
from drumcore.kit.values import Kit, slug
from drumcore.refusals import Refusal
from studio.kits.models import KitRecord, KitVersion, Part
from studio.kits.references import keep_parts, named_in, refer, refer_only
from studio.kits.tab_undo import undoable, without
from studio.kits.tabs import this_tab
from studio.storage.batches import batches

_HELD = 12
BACK = ("Restore", "Go back")
"""How the title of a version begins that restores an earlier one: now, and as older versions of this program wrote it."""
_kits: "OrderedDict[tuple[str, int], tuple[Kit, tuple[str, ...]]]" = OrderedDict()
_lock = Lock()


class StaleEdit(Exception):
    """The kit has changed since the version an edit was made against."""

    def __init__(self, current: int) -> None:
        super().__init__("This kit was changed elsewhere meanwhile; the newer version is kept and shown now.")
        self.current = current


class NoSuchVersion(Refusal):
    """A version that was forgotten or never existed."""

    def __init__(self) -> None:
        super().__init__("That version of the kit no longer exists; choose another.")


class NoSuchKit(Exception):
    """There is no such kit, or it is in the bin."""


def kit_record(kit_id: str) -> KitRecord:
    """The record of a kit that is not in the bin. Raises NoSuchKit."""
    record = KitRecord.objects.filter(id=kit_id, put_away=False).first()
    if record is None:
        raise NoSuchKit
    return record


def kit_at(kit_id: str, number: int) -> Kit:
    """The kit at a version, repaired if needed. Raises NoSuchVersion if it does not exist, and Refusal if the stored
    data is not a kit at all.
    """
    return _read(kit_id, number)[0]


def notes_at(kit_id: str, number: int) -> tuple[str, ...]:
    """The notices of a stored version: saved by an older program, or repaired."""
    return _read(kit_id, number)[1]


def _read(kit_id: str, number: int) -> tuple[Kit, tuple[str, ...]]:
    """Versions never change, so loaded ones are cached."""
    with _lock:
        if (kit_id, number) in _kits:
            _kits.move_to_end((kit_id, number))
            return _kits[kit_id, number]
    version = KitVersion.objects.filter(kit_id=kit_id, number=number).first()
    if version is None:
        raise NoSuchVersion
    try:
        head = zlib.decompress(bytes(version.head))
        rows = Part.objects.filter(hash__in=part_hashes(head))
        read = from_parts(head, {part.hash: zlib.decompress(bytes(part.data)) for part in rows})
    except NewerKit:
        raise Refusal(
            "This kit was saved by a newer version of this program; open it with that one. Nothing of it was changed."
        ) from None
    except (ValueError, TypeError, LookupError, zlib.error, Refusal):
        raise Refusal("The saved data of this kit cannot be read. Its recordings and versions are kept.") from None
    _remember(kit_id, number, *read)
    return read


def current_kit(kit_id: str) -> Kit:
    """The kit at its current version. Raises NoSuchKit."""
    return kit_at(kit_id, kit_record(kit_id).current)


def _remember(kit_id: str, number: int, kit: Kit, notes: tuple[str, ...] = ()) -> None:
    with _lock:
        _kits[kit_id, number] = kit, notes
        while len(_kits) > _HELD:
            _kits.popitem(last=False)


def create_kit(name: str, kit: Kit | None = None, said: str = "New kit", copied_from: str = "") -> KitRecord:
    """Creates a kit, empty or from a value (which gets the new kit's id)."""
    name = name.strip()[:120]
    if not name:
        raise Refusal("A kit needs a name.")
    kit_id = f"{slug(name)[:60]}-{uuid.uuid4().hex[:6]}"
    value = kit.but(id=kit_id, name=name) if kit else Kit(id=kit_id, name=name)
    with transaction.atomic():
        record = KitRecord.objects.create(id=kit_id, name=name, copied_from=copied_from)
        _add_version(record, value, None, said)
        record.save()
    return record


def copy_of(record: KitRecord, name: str | None = None) -> KitRecord:
    """A copy of a kit that belongs to the user, under a name or that with a number; with its sessions."""
    taken = set(KitRecord.objects.values_list("name", flat=True))
    plain = f"{record.name[:110]} copy"
    name = name or (plain if plain not in taken else free_name(plain, taken))
    with transaction.atomic():
        copy = create_kit(name, kit_at(record.id, record.current), f"Copied from {record.name}", record.id)
        copy.sessions.set(record.sessions.all())
    return copy


def own_of(record: KitRecord) -> KitRecord:
    """The kit that a change goes to: itself, or a copy if it ships."""
    return copy_of(record) if record.ships else record


def _add_version(
    record: KitRecord,
    kit: Kit,
    parent: int | None,
    said: str,
    gesture: str = "",
    mark: str = "",
    edit: Edit | None = None,
    undoes: int | None = None,
) -> None:
    head, parts = to_parts(kit)
    keep_parts(parts)
    refer(record, head)
    last = KitVersion.objects.filter(kit=record).order_by("-number").values_list("number", flat=True).first() or 0
    KitVersion.objects.create(
        kit=record,
        number=last + 1,
        parent=parent,
        said=said[:200],
        gesture=gesture,
        mark=mark,
        head=zlib.compress(head, 6),
        edit=zlib.compress(edit.model_dump_json().encode(), 6) if edit is not None else None,
        tab=this_tab(),
        undoes=undoes,
    )
    _stands(record, last + 1, kit, [])
    _remember(record.id, last + 1, kit)


def _stands(record: KitRecord, number: int, kit: Kit, redo: list[int]) -> None:
    """Saves a kit's current version and its summary for lists."""
    record.current, record.name, record.redo = number, kit.name, redo
    record.summary = summary(kit).model_dump(mode="json")


def _locked(kit_id: str) -> KitRecord:
    record = KitRecord.objects.select_for_update().filter(id=kit_id, put_away=False).first()
    if record is None:
        raise NoSuchKit
    return record


def _checked(kit_id: str, base_version: int) -> KitRecord:
    record = _locked(kit_id)
    if record.current != base_version:
        raise StaleEdit(record.current)
    return record


def _checked_own(kit_id: str, base_version: int) -> KitRecord:
    """The kit, or the copy that a change of a shipped one goes to."""
    return own_of(_checked(kit_id, base_version))


def make_edit(
    kit_id: str, base_version: int, edit: Edit, gesture: str = "", mark: str = ""
) -> tuple[Kit, Kit, KitRecord]:
    """Applies an edit; returns the kit at `base_version`, the kit after it, and its record. When this returns, the edit
    is saved.

    Edits of one `gesture` (a drag) are versions of their own, and one undo goes back before all of them. An edit
    against an older version is applied to the newest if it does not conflict with changes since; otherwise it raises
    StaleEdit. An edit with a known `mark` is not made again, because a client without a response may repeat its
    request. An edit of a shipped kit is made in a copy, whose record is returned.
    """
    with transaction.atomic():
        record = _locked(kit_id)
        if record.ships:
            return _edit_of_what_ships(record, edit, gesture, mark)
        known = KitVersion.objects.filter(kit=record, number__gt=base_version)
        if mark and known.filter(mark=mark).exists():
            return _base(record, base_version), kit_at(kit_id, record.current), record
        stands = kit_at(kit_id, record.current)
        before, after = stands, None
        if record.current == base_version:
            after = apply(stands, edit)
        else:
            before = _base(record, base_version)
            after = made_on(before, stands, edit)
        if after is None:
            raise StaleEdit(record.current)
        if after == stands:
            return before, after, record
        parent = record.current
        last = KitVersion.objects.only("gesture", "parent").get(kit=record, number=record.current)
        if gesture and last.gesture == gesture and last.parent is not None:
            parent = last.parent
        _add_version(record, after, parent, said_of(stands, edit), gesture, mark, edit)
        record.save()
    return before, after, record


def _edit_of_what_ships(ships: KitRecord, edit: Edit, gesture: str, mark: str) -> tuple[Kit, Kit, KitRecord]:
    before = kit_at(ships.id, ships.current)
    made = KitVersion.objects.filter(kit__copied_from=ships.id, mark=mark).select_related("kit").first()
    if mark and made is not None:
        return before, kit_at(made.kit.id, made.kit.current), made.kit
    after = apply(before, edit)
    if after == before:
        return before, after, ships
    copy = copy_of(ships)
    # An edit of the kit itself, such as its name, applies to the copy.
    after = apply(kit_at(copy.id, copy.current), edit)
    _add_version(copy, after, copy.current, said_of(before, edit), gesture, mark, edit)
    copy.save()
    return before, after, copy


def _base(record: KitRecord, number: int) -> Kit:
    """The version an edit was made against. Raises StaleEdit if there is none with that number."""
    if not KitVersion.objects.filter(kit=record, number=number).exists():
        raise StaleEdit(record.current)
    return kit_at(record.id, number)


def untold(record: KitRecord) -> tuple[str, ...]:
    """Notices of the current kit that the user has not read."""
    return tuple(note for note in notes_at(record.id, record.current) if note not in record.told)


def tell(record: KitRecord) -> None:
    """Marks a kit's notices as read."""
    record.told = sorted({*record.told, *notes_at(record.id, record.current)})
    record.save(update_fields=["told"])


def step_back(kit_id: str, base_version: int) -> tuple[Kit, Kit, KitRecord]:
    """Undo: take back the latest edit of this tab. If nothing followed it, that is going to the version before;
    otherwise later edits of other tabs stay. Raises Refusal if they build on it.
    """
    with transaction.atomic():
        record = _checked(kit_id, base_version)
        if record.ships:
            raise Refusal("This kit ships with the program and is as it came; there is nothing to undo.")
        latest, later = undoable(record)
        if latest is None or latest.parent is None:
            raise Refusal("There is nothing to undo.")
        if not later:
            return _stand_at(record, latest.parent, [*record.redo, base_version])
        stands = kit_at(kit_id, record.current)
        after = without(latest, later, lambda number: kit_at(kit_id, number))
        _add_version(record, after, record.current, f"{latest.said} undone", undoes=latest.number)
        record.save()
    return stands, after, record


def step_forward(kit_id: str, base_version: int) -> tuple[Kit, Kit, KitRecord]:
    """Redo: go to the version undone last."""
    with transaction.atomic():
        record = _checked(kit_id, base_version)
        if not record.redo:
            current = KitVersion.objects.only("parent", "undoes", "tab").get(kit=record, number=record.current)
            if current.undoes is not None and current.parent is not None and current.tab == this_tab():
                return _stand_at(record, current.parent, [])
            raise Refusal("There is nothing to redo.")
        return _stand_at(record, record.redo[-1], record.redo[:-1])


def _stand_at(record: KitRecord, number: int, redo: list[int]) -> tuple[Kit, Kit, KitRecord]:
    before, after = kit_at(record.id, record.current), kit_at(record.id, number)
    _stands(record, number, after, redo)
    record.save()
    return before, after, record


def go_back(kit_id: str, base_version: int, then: Kit, said: str) -> tuple[Kit, Kit, KitRecord]:
    """Restores an earlier version or part of it, as one new version that one undo removes."""
    with transaction.atomic():
        record = _checked_own(kit_id, base_version)
        stands = kit_at(kit_id, record.current)
        hold(then)
        if then != stands:
            _add_version(record, then, record.current, said)
            record.save()
    return stands, then, record


def forget_before(kit_id: str, before: int) -> int:
    """Forgets the versions of a kit before one, except named ones; returns how many. The current version and redo stay.
    The version that followed a forgotten one becomes the first.
    """
    # Versions never change, so most of what stays is read before the lock is taken.
    left = _names_by_version(kit_record(kit_id).versions.filter(number__gte=before))
    with transaction.atomic():
        record = _locked(kit_id)
        if record.ships:
            raise Refusal("This kit ships with the program and has no versions to delete.")
        keep = {record.current, *record.redo, *record.moments.values_list("number", flat=True)}
        gone = KitVersion.objects.filter(kit=record, number__lt=before).exclude(number__in=keep)
        numbers = set(gone.values_list("number", flat=True))
        KitVersion.objects.filter(kit=record, parent__in=numbers).update(parent=None)
        gone.delete()
        stay = set(record.versions.values_list("number", flat=True))
        for some in batches(stay - left.keys()):
            left |= _names_by_version(record.versions.filter(number__in=some))
        named = [left[number] for number in stay]
        # A damaged version may refer to anything, so all references stay.
        if None not in named:
            refer_only(record, set().union(*(names for names in named if names is not None)))
    with _lock:
        for number in numbers:
            _kits.pop((kit_id, number), None)
    return len(numbers)


def _names_by_version(versions: QuerySet[KitVersion]) -> dict[int, frozenset[str] | None]:
    """What each version's head refers to, None for an unreadable one; equal sets are shared."""
    shared: dict[frozenset[str], frozenset[str]] = {}
    found: dict[int, frozenset[str] | None] = {}
    for number, head in versions.values_list("number", "head").iterator(100):
        try:
            names = frozenset(named_in(zlib.decompress(bytes(head))))
        except zlib.error:
            found[number] = None
        else:
            found[number] = shared.setdefault(names, names)
    return found


def summaries() -> Iterator[tuple[KitRecord, KitSummary | Refusal]]:
    """Every kit on the list, last changed first, as summaries. Kits saved by an older program are opened once for it.
    An unreadable kit does not hide the others.
    """
    records = KitRecord.objects.filter(put_away=False).annotate(last=Max("versions__created")).order_by("-last")
    for record in records:
        try:
            yield record, summary_of(record)
        except Refusal as refusal:
            yield record, refusal


def summary_of(record: KitRecord) -> KitSummary:
    """A kit's summary; for one saved by an older program the kit is opened once. Raises Refusal if it is unreadable."""
    if record.summary is not None:
        try:
            return KitSummary.model_validate(record.summary)
        except ValidationError:
            # If the stored summary is damaged, it is made again from the kit.
            pass
    found = summary(kit_at(record.id, record.current))
    record.summary = found.model_dump(mode="json")
    KitRecord.objects.filter(id=record.id, current=record.current).update(summary=record.summary)
    return found


def undo_and_redo(record: KitRecord) -> tuple[str | None, str | None]:
    """What undo and redo would do, in sentences."""
    if record.ships:
        return None, None
    latest, _ = undoable(record)
    undo = latest.said if latest is not None and latest.parent is not None else None
    again = record.redo[-1] if record.redo else _undone_by(record)
    redo = KitVersion.objects.only("said").get(kit=record, number=again).said if again is not None else None
    return undo, redo


def _undone_by(record: KitRecord) -> int | None:
    """The version that the current one takes back, if this tab did that."""
    current = KitVersion.objects.only("undoes", "tab").get(kit=record, number=record.current)
    return current.undoes if current.tab == this_tab() else None
