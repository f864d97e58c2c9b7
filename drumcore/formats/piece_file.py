"""The piece file (.zestypiece): a kit file with one piece, marked by `piece.json`."""

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

from drumcore.formats.archives import check_archive, open_archive, read_entry
from drumcore.formats.kit_file import write_kit_file
from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Kit
from drumcore.recordings.files import Progress
from drumcore.refusals import Refusal
from drumcore.shelf.kept_piece import KeptPiece

FORMAT = 1
ENTRY = "piece.json"
LARGEST = 64 << 10


def write_piece_file(
    kept: KeptPiece, locate: Callable[[str], Path], path: Path, progress: Progress | None = None
) -> None:
    """Writes a saved piece and its recordings; `locate` gives the file for a hash."""
    said = json.dumps({"kept_piece": FORMAT, "of": kept.of}, ensure_ascii=False)
    write_kit_file(kept.kit, locate, path, progress, {ENTRY: said})


def kept_from(path: Path, name: str) -> str | None:
    """The name of the kit the piece came from; None if the file holds a whole kit. Raises Refusal if a newer version
    wrote it or it is damaged.
    """
    with open_archive(path, name) as archive:
        check_archive(archive, name)
        if ENTRY not in archive.namelist():
            return None
        if archive.getinfo(ENTRY).file_size > LARGEST:
            raise Refusal(f"{name}, {ENTRY}: too large; save the piece again.")
        try:
            raw: Any = json.loads(read_entry(archive, ENTRY))
        except (ValueError, RecursionError):
            raise Refusal(f"{name}, {ENTRY}: not valid JSON; save the piece again.") from None
    if not isinstance(raw, dict) or raw.get("kept_piece") != FORMAT:
        raise Refusal(f"{name} was written by a newer version, which this one cannot read; it reads format {FORMAT}.")
    return str(raw.get("of", ""))[:400]


def piece_of_file(kit: Kit, of: str, name: str) -> KeptPiece:
    """The saved piece of a file that was read as a kit. Raises Refusal if that has no piece or several."""
    if len(pieces_of(kit)) != 1:
        raise Refusal(f"{name} says that it is a piece and holds {len(pieces_of(kit))}; save the piece again.")
    return KeptPiece(kit=kit, of=of)
