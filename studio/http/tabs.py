"""Names the browser tab of each request, from its header."""

from collections.abc import Callable

from django.http import HttpRequest
from django.http.response import HttpResponseBase

from studio.kits.tabs import asked_by

HEADER = "X-Tab"


class NamesTheTab:
    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        with asked_by(request.headers.get(HEADER, "")):
            return self.get_response(request)
