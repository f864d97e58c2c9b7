"""How the core says no."""


class Refusal(Exception):
    """Input or an edit that cannot be used. Its text is one sentence for the user.

    The sentence says which file or field, what is wrong, and what to do about it.
    """


class OccupiedNote(Refusal):
    """An articulation was put on a note that plays something else, without saying what to do with it."""


class DamagedRecording(Refusal):
    """The file of a recording is gone, cannot be read, or holds another sound than it did. `content` says which."""

    def __init__(self, content: str) -> None:
        super().__init__("A recording of this kit is missing or damaged on the disk; add its session again.")
        self.content = content
