"""Requests from other sites are refused: the studio listens on this machine, and any page could try to reach it."""

from collections.abc import Callable
from urllib.parse import urlsplit

from django.http import HttpRequest, HttpResponse, JsonResponse

SAFE = {"GET", "HEAD", "OPTIONS"}


class OwnOriginOnly:
    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        origin = request.headers.get("Origin")
        if request.method not in SAFE and origin is not None and urlsplit(origin).netloc != request.get_host():
            return JsonResponse({"detail": "This request came from another site and was not carried out."}, status=403)
        return self.get_response(request)
