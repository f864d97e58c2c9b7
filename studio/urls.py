from django.http import FileResponse, HttpRequest, HttpResponse, HttpResponseBase
from django.urls import path, re_path

from studio.api import api
from studio.settings import DIST


def interface(request: HttpRequest) -> HttpResponseBase:
    """The built interface, for every address that is a place in it."""
    index = DIST / "index.html"
    if not index.is_file():
        return HttpResponse("The interface is not built; run “make demo”.", status=503, content_type="text/plain")
    return FileResponse(index.open("rb"), content_type="text/html", headers={"Cache-Control": "no-cache"})


urlpatterns = [path("api/", api.urls), re_path(r"^(?!api/|assets/).*$", interface)]
