"""Treatments kept under a name, to be put on any channel of any kit."""

from typing import Annotated

from pydantic import Field

from drumcore.treatments.kinds import TreatmentOfAKind
from drumcore.value import Value


class KeptTreatments(Value):
    """One stage or a whole chain; at most one of each kind. `says` is what it does, in a few words."""

    treatments: Annotated[tuple[TreatmentOfAKind, ...], Field(max_length=16)] = ()
    says: Annotated[str, Field(max_length=200)] = ""
