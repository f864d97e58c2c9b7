"""Responses offered as a file to save."""

from django.http import HttpResponse

KINDS = {
    "csv": "text/csv; charset=utf-8",
    "json": "application/json; charset=utf-8",
    "html": "text/html; charset=utf-8",
    "mid": "audio/midi",
}


def as_file(held: str | bytes, name: str, form: str) -> HttpResponse:
    """A download called `name`, without characters that file names or headers do not allow; `form` is its suffix."""
    answer = HttpResponse(held, content_type=KINDS[form])
    plain = "".join(c if c.isascii() and (c.isalnum() or c in " -_") else "_" for c in name)
    answer["Content-Disposition"] = f'attachment; filename="{plain}.{form}"'
    return answer
