"""How the names of kit files and of files of single pieces end."""

SUFFIX = ".zestykit"
PIECE_SUFFIX = ".zestypiece"
