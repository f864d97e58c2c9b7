"""The list of exports."""

from drumcore.exports.export import Export
from drumcore.exports.host_take import HOST_TAKE
from drumcore.exports.kit_file import KIT_FILE
from drumcore.exports.stems import STEMS

EXPORTS: dict[str, Export] = {export.name: export for export in (STEMS, KIT_FILE, HOST_TAKE)}
