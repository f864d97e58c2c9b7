"""The studio's API: all routes of the interface. Rules are in the core; routes only pass them on."""

import logging
from typing import Any

from django.conf import settings
from django.core.exceptions import RequestDataTooBig, SuspiciousOperation, TooManyFilesSent
from django.db import DatabaseError, IntegrityError, OperationalError
from django.http import HttpRequest, HttpResponse, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI, Schema
from ninja.errors import HttpError, ValidationError
from ninja.parser import Parser
from pydantic_core import from_json

from drumcore.refusals import DamagedRecording, OccupiedNote, Refusal
from drumcore.validation_sentences import why_misread
from studio.kits.versions import NoSuchKit, StaleEdit
from studio.sessions.damage import note_damage
from studio.storage.disk_space import BUSY, FULL, NO_ROOM, says_full


class Said(Schema):
    """Why a request failed, in one sentence; for a stale edit also the newest version."""

    detail: str
    current: int | None = None
    occupied: bool = False


class NotJson(Exception):
    """A body without the JSON content type."""


class StrictJson(Parser):
    """Strict JSON: no NaN, Infinity, lone surrogates or endless nesting, and only with the JSON content type, because
    any web page may send plain text to any address.
    """

    def parse_body(self, request: HttpRequest) -> Any:
        if request.content_type != "application/json":
            raise NotJson
        return from_json(request.body, allow_inf_nan=False)


api = NinjaAPI(
    title="Zesty Skin studio", version="1", docs_url=None, openapi_url=None, urls_namespace="api", parser=StrictJson()
)


@api.exception_handler(Refusal)
def refused(request: HttpRequest, error: Refusal) -> HttpResponse:
    said = Said(detail=str(error), occupied=isinstance(error, OccupiedNote))
    return api.create_response(request, said, status=422)


@api.exception_handler(DamagedRecording)
def damaged(request: HttpRequest, error: DamagedRecording) -> HttpResponse:
    return api.create_response(request, Said(detail=note_damage(error)), status=422)


@api.exception_handler(ValidationError)
def not_understood(request: HttpRequest, error: ValidationError) -> HttpResponse:
    first = error.errors[0]
    field = ".".join(str(part) for part in first["loc"][2:]) or "the request"
    said = Said(detail=f"This request is not understood at “{field}”: {why_misread(first)}.")
    return api.create_response(request, said, status=422)


@api.exception_handler(HttpError)
def not_read(request: HttpRequest, error: HttpError) -> HttpResponse:
    if isinstance(error.__cause__, NotJson):
        detail = "This address takes JSON; say so with Content-Type: application/json."
        return api.create_response(request, Said(detail=detail), status=415)
    detail = "This request is not JSON that can be read; send it again." if error.status_code == 400 else str(error)
    return api.create_response(request, Said(detail=detail), status=error.status_code)


@api.exception_handler(TooManyFilesSent)
def too_many_files(request: HttpRequest, error: TooManyFilesSent) -> HttpResponse:
    most = settings.DATA_UPLOAD_MAX_NUMBER_FILES
    said = Said(
        detail=f"At most {most} files can be sent in one request; nothing of it was kept. Send fewer at a time."
    )
    return api.create_response(request, said, status=413)


@api.exception_handler(RequestDataTooBig)
def too_large(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
    most = settings.DATA_UPLOAD_MAX_MEMORY_SIZE >> 20
    said = Said(
        detail=f"This request is over {most} MB without its files; nothing of it was kept. Send less at a time."
    )
    return api.create_response(request, said, status=413)


@api.exception_handler(SuspiciousOperation)
@api.exception_handler(MultiPartParserError)
@api.exception_handler(UnreadablePostError)
def not_whole(request: HttpRequest, error: Exception) -> HttpResponse:
    said = Said(detail="This request did not arrive whole, or its parts cannot be told apart; send it again.")
    return api.create_response(request, said, status=400)


@api.exception_handler(IntegrityError)
def gone_meanwhile(request: HttpRequest, error: IntegrityError) -> HttpResponse:
    said = Said(detail="What this needs was removed or changed meanwhile; nothing was changed. Load the page again.")
    return api.create_response(request, said, status=409)


@api.exception_handler(StaleEdit)
def stale(request: HttpRequest, error: StaleEdit) -> HttpResponse:
    return api.create_response(request, Said(detail=str(error), current=error.current), status=409)


@api.exception_handler(NoSuchKit)
def no_such_kit(request: HttpRequest, error: NoSuchKit) -> HttpResponse:
    return api.create_response(request, Said(detail="There is no such kit; it may have been deleted."), status=404)


@api.exception_handler(OperationalError)
def not_kept(request: HttpRequest, error: OperationalError) -> HttpResponse:
    if says_full(error):
        return api.create_response(request, Said(detail=NO_ROOM), status=507)
    logging.getLogger(__name__).warning("database: %s", error)
    return api.create_response(request, Said(detail=BUSY), status=503)


@api.exception_handler(DatabaseError)
def records_damaged(request: HttpRequest, error: DatabaseError) -> HttpResponse:
    logging.getLogger(__name__).error("database: %s", error)
    detail = "Some of the studio's records are damaged on the disk; “zesty doctor” says which, and fixes what it can."
    return api.create_response(request, Said(detail=detail), status=503)


@api.exception_handler(OSError)
def no_room(request: HttpRequest, error: OSError) -> HttpResponse:
    if error.errno not in FULL:
        raise error
    return api.create_response(request, Said(detail=NO_ROOM), status=507)


# The routes use the handlers above.
from studio.http import (  # noqa: E402
    bringing,
    exports,
    grooves,
    history,
    jobs,
    kits,
    library,
    line_checks,
    loudness,
    maintenance,
    maps,
    moments,
    origins,
    outputs,
    pieces,
    previews,
    readings,
    rules,
    session_pieces,
    sessions,
    shelf_files,
    shelves,
    sound_bundles,
    sounds,
    spaces,
    strikes,
)

for _area in (
    rules,
    previews,
    library,
    kits,
    shelves,
    shelf_files,
    pieces,
    outputs,
    moments,
    history,
    session_pieces,
    origins,
    bringing,
    maps,
    strikes,
    loudness,
    sounds,
    sound_bundles,
    spaces,
    sessions,
    grooves,
    readings,
    jobs,
    exports,
    line_checks,
    maintenance,
):
    api.add_router("", _area.router)
