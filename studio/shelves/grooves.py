"""Saved grooves, by number."""

from pydantic import ValidationError

from drumcore.grooves.values import Groove
from drumcore.refusals import Refusal
from studio.shelves.models import GrooveRecord


def groove_of(number: int) -> Groove:
    """The saved groove with this number. Raises Refusal if there is none."""
    record = GrooveRecord.objects.filter(id=number).first()
    if record is None:
        raise Refusal("There is no such groove; it may have been deleted. Choose one from the list.")
    return read_groove(record)


def read_groove(record: GrooveRecord) -> Groove:
    """Raises Refusal if the stored groove is damaged."""
    try:
        return Groove.model_validate(record.data)
    except ValidationError:
        raise Refusal(f"The saved data of the groove {record.name} cannot be read; add its file again.") from None
