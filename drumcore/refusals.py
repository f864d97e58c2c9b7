"""The errors the core raises for unusable input."""


class Refusal(Exception):
    """Input or an edit that cannot be used.

    Its text is one sentence for the user: which file or field, what is wrong, and what to do about it.
    """


class OccupiedNote(Refusal):
    """An articulation was put on an occupied note without saying what to do with the one there."""


class DamagedRecording(Refusal):
    """A recording's file is missing, unreadable, or no longer the same sound. `content` is its hash."""

    def __init__(self, content: str) -> None:
        super().__init__("A recording of this kit is missing or damaged on the disk; add its session again.")
        self.content = content
