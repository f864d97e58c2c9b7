"""Note numbers and their names."""

NAMES = ("C", "C♯", "D", "D♯", "E", "F", "F♯", "G", "G♯", "A", "A♯", "B")


def note_name(note: int, middle_c: int = 3) -> str:
    """The name of a MIDI note when note 60 is the C of octave `middle_c` (programs differ: 3, 4 or 5)."""
    return f"{NAMES[note % 12]}{str(note // 12 - 5 + middle_c).replace('-', '−')}"
