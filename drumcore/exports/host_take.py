"""What the simulated host records: a groove played into it, one file per track, named after the track."""

from pathlib import Path

from drumcore.exports.export import Export, Made, Progress, Source
from drumcore.exports.stems import StemsAsked, stems_of
from drumcore.kit.values import Kit
from drumcore.routing.track_sheet import track_of


class HostTakeAsked(StemsAsked):
    """The same options as stems."""


def _title(asked: HostTakeAsked, source: Source) -> str:
    return f"{source.kit.routing.host} records {source.groove(asked.groove).name}"


def _write(asked: HostTakeAsked, source: Source, folder: Path, progress: Progress) -> Made:
    return stems_of(_as_the_host_calls_them(source.kit), asked, source, folder, progress)


def _as_the_host_calls_them(kit: Kit) -> Kit:
    outputs = tuple(output.but(name=track_of(output)) for output in kit.routing.outputs)
    return kit.but(routing=kit.routing.but(outputs=outputs))


HOST_TAKE = Export(name="host-take", asked=HostTakeAsked, title=_title, write=_write)
