"""Reverbs and echoes saved by name, for any bus of any kit."""

from typing import Annotated

from pydantic import Field

from drumcore.spaces.kinds import SpaceOfAKind
from drumcore.value import Value


class KeptSpace(Value):
    """A saved reverb or echo; `says` describes it in a few words."""

    space: SpaceOfAKind
    says: Annotated[str, Field(max_length=200)] = ""
