"""Spaces kept under a name, to be put on any bus of any kit."""

from typing import Annotated

from pydantic import Field

from drumcore.spaces.kinds import SpaceOfAKind
from drumcore.value import Value


class KeptSpace(Value):
    """A space; `says` is what it is like, in a few words."""

    space: SpaceOfAKind
    says: Annotated[str, Field(max_length=200)] = ""
