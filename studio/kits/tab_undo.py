"""Which edit undo takes back when a kit is open in several tabs, and the kit without it."""

import zlib
from collections.abc import Callable, Iterator

from pydantic import TypeAdapter

from drumcore.edits.rebase import made_on
from drumcore.edits.values import Edit
from drumcore.kit.values import Kit
from drumcore.refusals import Refusal
from studio.kits.models import KitRecord, KitVersion
from studio.kits.tabs import this_tab

_EDIT: TypeAdapter[Edit] = TypeAdapter(Edit)


def undoable(record: KitRecord) -> tuple[KitVersion | None, list[KitVersion]]:
    """The version whose edit this tab's undo takes back, and the versions of other tabs that followed it, in order.

    That is the tab's latest version that it has not taken back; the latest of all is anybody's if its tab is unknown. A
    tab that has made none takes back the latest version of all. None if the kit is as it began.
    """
    tab = this_tab()
    undone: set[int] = set()
    later: list[KitVersion] = []
    for version in _back_from(record):
        if version.parent is None:
            break
        if version.number in undone or version.undoes is not None:
            undone |= {version.undoes} if version.undoes is not None else set()
            if version.undoes is None or version.tab != tab:
                later.insert(0, version)
            continue
        if not tab or version.tab == tab or (not version.tab and not later):
            return version, [each for each in later if each.number not in undone and each.undoes is None]
        later.insert(0, version)
    newest = next(_back_from(record), None)
    return newest, []


def _back_from(record: KitRecord) -> Iterator[KitVersion]:
    """The current version, and those it came from."""
    number: int | None = record.current
    while number is not None:
        version = KitVersion.objects.defer("head").filter(kit=record, number=number).first()
        if version is None:
            return
        yield version
        number = version.parent


def without(latest: KitVersion, later: list[KitVersion], kit_at: Callable[[int], Kit]) -> Kit:
    """The kit as it would be if an edit had not been made and the `later` ones had. Raises Refusal, naming the edit, if one
    of them builds on it or cannot be made again.
    """
    assert latest.parent is not None
    kit = kit_at(latest.parent)
    for version in later:
        base = version.parent
        for each in _of_one_gesture(version):
            again = _EDIT.validate_json(zlib.decompress(bytes(each.edit))) if each.edit else None
            made = made_on(kit_at(base), kit, again) if again is not None and base is not None else None
            if made is None:
                raise Refusal(
                    f"“{latest.said}” was followed by “{version.said}” in another tab, which builds on it; undo that first."
                )
            kit, base = made, each.number
    return kit


def _of_one_gesture(version: KitVersion) -> list[KitVersion]:
    """A version, after the earlier ones of its gesture, which one undo takes back together."""
    if not version.gesture:
        return [version]
    together = KitVersion.objects.defer("head").filter(
        kit_id=version.kit_id, gesture=version.gesture, number__lte=version.number, number__gt=version.parent or 0
    )
    return list(together.order_by("number"))
