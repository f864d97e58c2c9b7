"""Restricts access to this machine, under its own names, from the studio's own pages.

There is no sign-in yet, so whoever reaches the studio can do everything. Without this guard any web page could try, by
its own requests or by a host name that resolves to this machine.
"""

from collections.abc import Callable
from ipaddress import ip_address
from urllib.parse import urlsplit

from django.core.exceptions import DisallowedHost
from django.http import HttpRequest, JsonResponse
from django.http.response import HttpResponseBase

SAFE = {"GET", "HEAD", "OPTIONS"}
HEADERS = {
    # Styles set on elements come from the interface; scripts come from its files only.
    "Content-Security-Policy": "default-src 'self'; img-src 'self' data: blob:; font-src 'self' data:; media-src 'self' blob:; "
    "style-src 'self' 'unsafe-inline'; worker-src 'self' blob:; object-src 'none'; base-uri 'self'; "
    "form-action 'self'; frame-ancestors 'none'",
    "X-Frame-Options": "DENY",
    "Cross-Origin-Resource-Policy": "same-origin",
}


class OwnPagesOnly:
    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        why = _why_not(request)
        response = JsonResponse({"detail": why}, status=403) if why else self.get_response(request)
        for name, value in HEADERS.items():
            response.headers.setdefault(name, value)
        return response


def _why_not(request: HttpRequest) -> str:
    if not _is_this_machine(request.META.get("REMOTE_ADDR", "")):
        return "The studio answers this machine only; open it there."
    try:
        host = request.get_host()
    except DisallowedHost:
        return "The studio does not go by that name; open it as 127.0.0.1 or localhost."
    origin = request.headers.get("Origin")
    foreign = origin is not None and urlsplit(origin).netloc != host
    if request.headers.get("Sec-Fetch-Site") == "cross-site" and request.path.startswith("/api/"):
        foreign = True
    if foreign and (request.method not in SAFE or request.path.startswith("/api/")):
        return "This request came from another site and was not carried out."
    return ""


def _is_this_machine(address: str) -> bool:
    """Requests over a local socket carry no address."""
    try:
        return not address or ip_address(address).is_loopback
    except ValueError:
        return False
