"""Answers compressed on their way, except sound and archives: they are packed already, and packing costs the listener."""

from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.middleware.gzip import GZipMiddleware

WORTH_IT = ("application/json", "text/")


class CompressText(GZipMiddleware):
    def process_response(self, request: HttpRequest, response: HttpResponseBase) -> HttpResponseBase:
        if not response.headers.get("Content-Type", "").startswith(WORTH_IT):
            return response
        return super().process_response(request, response)
