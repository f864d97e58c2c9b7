"""The studio's API: every address the interface talks to. Rules live in the core; this only carries them."""

from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI, Schema

from drumcore.refusals import OccupiedNote, Refusal
from studio.kits.versions import NoSuchKit, StaleEdit


class Said(Schema):
    """Why a request was not carried out: one sentence, and for a stale edit the version that stands."""

    detail: str
    current: int | None = None
    occupied: bool = False


api = NinjaAPI(title="Zesty Skin studio", version="1", docs_url=None, urls_namespace="api")


@api.exception_handler(Refusal)
def refused(request: HttpRequest, error: Refusal) -> HttpResponse:
    said = Said(detail=str(error), occupied=isinstance(error, OccupiedNote))
    return api.create_response(request, said, status=422)


@api.exception_handler(StaleEdit)
def stale(request: HttpRequest, error: StaleEdit) -> HttpResponse:
    return api.create_response(request, Said(detail=str(error), current=error.current), status=409)


@api.exception_handler(NoSuchKit)
def no_such_kit(request: HttpRequest, error: NoSuchKit) -> HttpResponse:
    return api.create_response(request, Said(detail="There is no such kit; it may have been removed."), status=404)


from studio.jobs.addresses import router as jobs_router  # noqa: E402 - the routers use the handlers above
from studio.kits.addresses import router as kits_router  # noqa: E402
from studio.kits.maps import router as maps_router  # noqa: E402
from studio.kits.playing import router as playing_router  # noqa: E402
from studio.library.addresses import router as library_router  # noqa: E402
from studio.library.readings import router as readings_router  # noqa: E402

api.add_router("", kits_router)
api.add_router("", maps_router)
api.add_router("", playing_router)
api.add_router("", library_router)
api.add_router("", readings_router)
api.add_router("", jobs_router)
