"""How a kit file's name ends."""

SUFFIX = ".zestykit"
