"""Compression of responses, except where it costs more than it saves. Sound and archives are compressed already, and
between two programs on one machine compression only adds time.
"""

from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.middleware.gzip import GZipMiddleware

WORTH_IT = ("application/json", "text/")


class CompressText(GZipMiddleware):
    def process_response(self, request: HttpRequest, response: HttpResponseBase) -> HttpResponseBase:
        beside = request.META.get("REMOTE_ADDR") in ("127.0.0.1", "::1") and request.path.startswith("/api/")
        if beside or not response.headers.get("Content-Type", "").startswith(WORTH_IT):
            return response
        return super().process_response(request, response)
