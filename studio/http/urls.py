from django.http import FileResponse, HttpRequest, HttpResponse, HttpResponseBase, JsonResponse
from django.urls import path, re_path
from django.views import defaults

from studio.http.api import api
from studio.http.openapi import document
from studio.settings import DIST

API = "/api/"


def interface(request: HttpRequest) -> HttpResponseBase:
    """The built interface, for every URL that is a place in it."""
    index = DIST / "index.html"
    if not index.is_file():
        return HttpResponse("The interface is not built; run “make demo”.", status=503, content_type="text/plain")
    return FileResponse(index.open("rb"), content_type="text/html", headers={"Cache-Control": "no-cache"})


def openapi(request: HttpRequest) -> HttpResponse:
    return HttpResponse(document(), content_type="application/json")


urlpatterns = [
    path("api/openapi.json", openapi),
    path("api/", api.urls),
    re_path(r"^(?!api/|assets/).*$", interface),
]


def _said(request: HttpRequest, status: int, sentence: str) -> HttpResponse | None:
    """An API request gets a JSON error even if it fails before its route is reached."""
    return JsonResponse({"detail": sentence}, status=status) if request.path.startswith(API) else None


def handler400(request: HttpRequest, exception: Exception) -> HttpResponse:
    said = _said(request, 400, "This request cannot be read; send it again.")
    return said or defaults.bad_request(request, exception)


def handler403(request: HttpRequest, exception: Exception) -> HttpResponse:
    said = _said(request, 403, "This request is not allowed.")
    return said or defaults.permission_denied(request, exception)


def handler404(request: HttpRequest, exception: Exception) -> HttpResponse:
    said = _said(request, 404, "The studio has no such page; reload.")
    return said or defaults.page_not_found(request, exception)


def handler500(request: HttpRequest) -> HttpResponse:
    said = _said(request, 500, "Something went wrong inside; nothing saved is lost. Try again.")
    return said or defaults.server_error(request)
