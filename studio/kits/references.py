"""Which recordings each kit's versions refer to, kept in tables, so that deleting a kit opens no version of another.

Everything that looks like a hash in stored JSON counts as a reference: too much may be kept, never too little.
"""

import hashlib
import re
import zlib
from collections.abc import Iterable, Mapping

from django.db.models import Exists, OuterRef

from studio.kits.models import KitRecord, KitReference, Part, RecordingInSet
from studio.storage.batches import AT_ONCE, batches
from studio.storage.models import StoredFile

_HASH = re.compile(rb'"([0-9a-f]{40}(?:[0-9a-f]{24})?)"')


def named_in(data: bytes) -> set[str]:
    """Every hash in a text: contents of 40 digits, parts and files of 64."""
    return {found.decode() for found in _HASH.findall(data)}


def keep_parts(parts: Mapping[str, bytes]) -> None:
    """Stores new parts with the recordings they refer to. Call it in a transaction."""
    known = set(Part.objects.filter(hash__in=parts).values_list("hash", flat=True))
    Part.objects.bulk_create(
        [
            Part(hash=name, data=zlib.compress(data, 6), recordings=keep_set(named_in(data)))
            for name, data in parts.items()
            if name not in known
        ],
        ignore_conflicts=True,
    )


def keep_set(names: set[str]) -> str:
    """Stores a set of recordings if it is new; returns its key, empty for an empty set."""
    if not names:
        return ""
    ordered = sorted(names)
    key = hashlib.sha256(" ".join(ordered).encode()).hexdigest()
    if not RecordingInSet.objects.filter(key=key).exists():
        RecordingInSet.objects.bulk_create(
            [RecordingInSet(key=key, name=name) for name in ordered], AT_ONCE, ignore_conflicts=True
        )
    return key


def refer(kit: KitRecord, head: bytes) -> None:
    """Records what a new version's head refers to. Call it in the transaction that saves the version."""
    names = named_in(head)
    known = set(KitReference.objects.filter(kit=kit, name__in=names).values_list("name", flat=True))
    KitReference.objects.bulk_create(
        [KitReference(kit=kit, name=name) for name in sorted(names - known)], ignore_conflicts=True
    )


def refer_only(kit: KitRecord, names: set[str]) -> None:
    """Deletes references that no version of a kit has any more; `names` is what its versions refer to."""
    gone = set(KitReference.objects.filter(kit=kit).values_list("name", flat=True)) - names
    for some in batches(gone):
        KitReference.objects.filter(kit=kit, name__in=some).delete()


def held_by(kits: Iterable[str]) -> set[str]:
    """Everything the versions of some kits refer to: parts, and their recordings."""
    names = set(KitReference.objects.filter(kit_id__in=list(kits)).values_list("name", flat=True))
    keys: set[str] = set()
    for some in batches(names):
        keys |= set(Part.objects.filter(hash__in=some).values_list("recordings", flat=True))
    for some in batches(keys - {""}):
        names |= set(RecordingInSet.objects.filter(key__in=some).values_list("name", flat=True))
    return names


class NamedByKits:
    """Which files all kits refer to, except some that are about to be deleted.

    A set of recordings exists while a part of some kit has it (`clear_parts`). Only the sets that would be deleted
    along are computed; whether another set has a file is one index lookup, however many kits there are.
    """

    def __init__(self, but: Iterable[str] = ()) -> None:
        leaving = list(but)
        self._others = KitReference.objects.exclude(kit_id__in=leaving)
        self._going = self._sets_going(leaving) if leaving else set[str]()

    def _sets_going(self, leaving: list[str]) -> set[str]:
        parts = set(KitReference.objects.filter(kit_id__in=leaving).values_list("name", flat=True))
        keys: set[str] = set()
        for some in batches(parts):
            keys |= set(Part.objects.filter(hash__in=some).values_list("recordings", flat=True))
        for some in batches(keys - {""}):
            kept = Part.objects.filter(recordings__in=some).filter(Exists(self._others.filter(name=OuterRef("hash"))))
            keys -= set(kept.values_list("recordings", flat=True).distinct())
        return keys

    def among(self, files: list[str]) -> set[str]:
        """Of at most `AT_ONCE` files, by the hashes of their bytes, those that are referred to."""
        found: set[str] = set()
        sets = RecordingInSet.objects.exclude(key__in=self._going)
        for by in ("sha256", "content"):
            for names in (sets, self._others):
                named = StoredFile.objects.filter(sha256__in=files).filter(Exists(names.filter(name=OuterRef(by))))
                found |= set(named.values_list("sha256", flat=True))
        return found


def unnamed_parts() -> list[str]:
    """Parts that no version of any kit refers to."""
    named = KitReference.objects.filter(name=OuterRef("hash"))
    return list(Part.objects.filter(~Exists(named)).values_list("hash", flat=True))


def clear_parts(candidates: Iterable[str]) -> None:
    """Deletes those of some parts that no version refers to, and sets without parts. Call it in a transaction."""
    for some in batches(candidates):
        unused = Part.objects.filter(hash__in=some).filter(~Exists(KitReference.objects.filter(name=OuterRef("hash"))))
        keys = set(unused.values_list("recordings", flat=True)) - {""}
        unused.delete()
        for few in batches(keys):
            left = set(Part.objects.filter(recordings__in=few).values_list("recordings", flat=True).distinct())
            RecordingInSet.objects.filter(key__in=[key for key in few if key not in left]).delete()
