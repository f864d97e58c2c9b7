"""Adds the pieces of a session, and puts those without a drum's name on notes by how they sound."""

from drumcore.edits.apply import apply
from drumcore.edits.notes import PutOnNote
from drumcore.edits.pieces import BuildPieces, RenameArticulation, SetPiece
from drumcore.edits.values import Edit, OneEdit, Several
from drumcore.kit.values import Kit
from drumcore.notes.by_sound import Proposed, propose
from drumcore.notes.standard import filed_on


def made_and_placed(kit: Kit, build: BuildPieces) -> tuple[Edit, tuple[Proposed, ...]]:
    """The edit that adds the pieces and places those the standard map does not know, and where it put them."""
    known = build.but(known_notes_only=True)
    proposed = propose(apply(kit, known), [piece.id for piece in build.pieces])
    single = {piece.articulations[0].id for piece in build.pieces if len(piece.articulations) == 1}
    if not proposed:
        return build, ()
    placing: list[OneEdit] = []
    for each in proposed:
        filed = filed_on(each.note)
        if filed is not None:
            placing.append(SetPiece(piece=each.piece, family=filed[0]))
            if each.articulation in single:
                placing.append(RenameArticulation(articulation=each.articulation, name=filed[1]))
        placing.append(PutOnNote(articulation=each.articulation, note=each.note))
    count = len(build.pieces)
    said = f"{count} piece{'' if count == 1 else 's'} made, {len(proposed)} placed by sound"
    return Several(said=said, edits=(known, *placing)), proposed
