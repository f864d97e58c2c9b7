"""Which recordings the versions of kits name, kept in tables: to remove a kit, no version of any other is opened.

Whatever looks like a hash in what is stored counts as naming it: too much may be kept, never too little.
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
    """Every hash that a text names: contents of 40 digits, parts and files of 64."""
    return {found.decode() for found in _HASH.findall(data)}


def keep_parts(parts: Mapping[str, bytes]) -> None:
    """Keep the parts that are not kept yet, each with the recordings it names. To be called in a transaction."""
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
    """Keep a set of recordings, if it is not kept yet; its key, blank for an empty set."""
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
    """Note what a new version's head names. To be called in the transaction that keeps the version."""
    names = named_in(head)
    known = set(KitReference.objects.filter(kit=kit, name__in=names).values_list("name", flat=True))
    KitReference.objects.bulk_create(
        [KitReference(kit=kit, name=name) for name in sorted(names - known)], ignore_conflicts=True
    )


def refer_only(kit: KitRecord, names: set[str]) -> None:
    """Forget what no version of a kit names any more; `names` is what its versions name."""
    gone = set(KitReference.objects.filter(kit=kit).values_list("name", flat=True)) - names
    for some in batches(gone):
        KitReference.objects.filter(kit=kit, name__in=some).delete()


def held_by(kits: Iterable[str]) -> set[str]:
    """All that the versions of some kits name: parts, and the recordings of those parts."""
    names = set(KitReference.objects.filter(kit_id__in=list(kits)).values_list("name", flat=True))
    keys: set[str] = set()
    for some in batches(names):
        keys |= set(Part.objects.filter(hash__in=some).values_list("recordings", flat=True))
    for some in batches(keys - {""}):
        names |= set(RecordingInSet.objects.filter(key__in=some).values_list("name", flat=True))
    return names


class NamedByKits:
    """Which files the versions of kits name, of all kits but some that are about to leave.

    A set of recordings is there as long as a part of some kit has it (`clear_parts`). So only the sets that would go with
    those who leave are worked out; whether a file is in any other is one look at an index, however many kits there are.
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
        """Of files by the hashes of their bytes, at most `AT_ONCE`, those that are named."""
        found: set[str] = set()
        sets = RecordingInSet.objects.exclude(key__in=self._going)
        for by in ("sha256", "content"):
            for names in (sets, self._others):
                named = StoredFile.objects.filter(sha256__in=files).filter(Exists(names.filter(name=OuterRef(by))))
                found |= set(named.values_list("sha256", flat=True))
        return found


def unnamed_parts() -> list[str]:
    """Parts that no version of any kit names."""
    named = KitReference.objects.filter(name=OuterRef("hash"))
    return list(Part.objects.filter(~Exists(named)).values_list("hash", flat=True))


def clear_parts(candidates: Iterable[str]) -> None:
    """Remove those of some parts that no version of any kit names, and the sets that no part is left of. To be called in a
    transaction."""
    for some in batches(candidates):
        unused = Part.objects.filter(hash__in=some).filter(~Exists(KitReference.objects.filter(name=OuterRef("hash"))))
        keys = set(unused.values_list("recordings", flat=True)) - {""}
        unused.delete()
        for few in batches(keys):
            left = set(Part.objects.filter(recordings__in=few).values_list("recordings", flat=True).distinct())
            RecordingInSet.objects.filter(key__in=[key for key in few if key not in left]).delete()
