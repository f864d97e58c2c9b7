"""Where the pieces of a kit came from."""

from django.http import HttpRequest
from ninja import Router

from studio.kits.origins import OriginShown
from studio.kits.origins import origins as origins_of
from studio.kits.versions import current_kit

router = Router()


@router.get("/kits/{kit_id}/origins", response=list[OriginShown])
def origins(request: HttpRequest, kit_id: str) -> list[OriginShown]:
    """The origins of pieces that were brought in."""
    return list(origins_of(current_kit(kit_id)))
