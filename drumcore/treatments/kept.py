"""Treatments saved by name, for any channel of any kit."""

from typing import Annotated

from pydantic import Field

from drumcore.treatments.kinds import TreatmentOfAKind
from drumcore.value import Value


class KeptTreatments(Value):
    """One treatment or several, at most one of each kind. `says` describes it in a few words."""

    treatments: Annotated[tuple[TreatmentOfAKind, ...], Field(max_length=16)] = ()
    says: Annotated[str, Field(max_length=200)] = ""
