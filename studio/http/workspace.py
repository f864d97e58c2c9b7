"""The workspace of a request."""

from collections.abc import Callable

from django.http import HttpRequest
from django.http.response import HttpResponseBase

from studio.people.workspace import LOCAL, acting_in


class ActsLocally:
    """There is one workspace and no sign-in: every request acts in it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        with acting_in(LOCAL):
            return self.get_response(request)
