"""The base class of all values: frozen, compared by content, refusing unknown fields."""

from typing import Self

from pydantic import BaseModel, ConfigDict


class Value(BaseModel):
    """A frozen value. Unknown fields are refused, so that a newer file is never half understood."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    def but(self, **changes: object) -> Self:
        """A copy with some fields changed. The new fields are not validated; the caller guarantees them."""
        return self.model_copy(update=changes)
