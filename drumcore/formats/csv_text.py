"""Text in CSV files that a spreadsheet opens: a name must not become a formula.

A spreadsheet computes a cell that begins with =, +, -, @, a tab or a return (OWASP, "CSV Injection"). Such text gets an
apostrophe in front, which spreadsheets take for "this is text"; reading takes it off again.
"""

_BEGINS_A_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def defused(text: str) -> str:
    """The text as a cell may hold it; `as_named` is its inverse."""
    return f"'{text}" if _would_be_one(text) else text


def as_named(text: str) -> str:
    """The text that `defused` wrote so."""
    return text[1:] if text.startswith("'") and _would_be_one(text) else text


def _would_be_one(text: str) -> bool:
    # Apostrophes in front count too, so that a name which has one of its own comes back with it.
    return text.lstrip("'").startswith(_BEGINS_A_FORMULA)
