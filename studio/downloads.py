"""Text handed over as a file to keep."""

from django.http import HttpResponse

KINDS = {"csv": "text/csv", "json": "application/json", "html": "text/html"}


def as_file(text: str, name: str, form: str) -> HttpResponse:
    """A download called `name`, with what no file name or header takes left out of it; `form` is its ending."""
    answer = HttpResponse(text, content_type=f"{KINDS[form]}; charset=utf-8")
    plain = "".join(c if c.isascii() and (c.isalnum() or c in " -_") else "_" for c in name)
    answer["Content-Disposition"] = f'attachment; filename="{plain}.{form}"'
    return answer
