"""Text in CSV files that may be opened in a spreadsheet: a name must not run as a formula.

A spreadsheet computes a cell that begins with =, +, -, @, a tab or a return (OWASP, "CSV Injection"). Such text is
written with an apostrophe in front, which spreadsheets read as "this is text"; reading removes it.
"""

_BEGINS_A_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def defused(text: str) -> str:
    """The text made safe for a cell; `as_named` is its inverse."""
    return f"'{text}" if _would_be_one(text) else text


def as_named(text: str) -> str:
    """The original of a text that `defused` wrote."""
    return text[1:] if text.startswith("'") and _would_be_one(text) else text


def _would_be_one(text: str) -> bool:
    # Leading apostrophes are escaped too, so that a name which begins with one survives.
    return text.lstrip("'").startswith(_BEGINS_A_FORMULA)
