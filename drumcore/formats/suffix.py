"""The file name suffixes of kits and pieces."""

SUFFIX = ".zestykit"
PIECE_SUFFIX = ".zestypiece"
