"""The base of all values: frozen, compared by what they hold, and refusing what they do not know."""

from typing import Self

from pydantic import BaseModel, ConfigDict


class Value(BaseModel):
    """A frozen value; unknown fields are refused, so that a newer file is never half understood."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    def but(self, **changes: object) -> Self:
        """A copy with some fields changed. The caller vouches for the new fields; nothing is validated again."""
        return self.model_copy(update=changes)
