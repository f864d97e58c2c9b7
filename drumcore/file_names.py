"""Names that become part of a file name."""

MOST_BYTES = 120
"""File systems take names of 255 bytes; a name may be joined by a number, another name and an ending."""


def shortened(name: str, most: int = MOST_BYTES) -> str:
    """A name cut to at most `most` bytes of UTF-8 without splitting a character: an emoji takes four, a kanji three."""
    return name.encode("utf-8", "replace")[:most].decode("utf-8", "ignore").strip()
