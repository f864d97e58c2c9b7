"""What cannot be read is told in words that somebody who made the file understands."""

from typing import Annotated, Literal

import pytest
from pydantic import Field, ValidationError, model_validator

from drumcore.kit.values import Width
from drumcore.validation_sentences import why_misread
from drumcore.value import Value


class Tin(Value):
    kind: Literal["tin"] = "tin"


class Box(Value):
    kind: Literal["box"] = "box"


class Drum(Value):
    name: Annotated[str, Field(min_length=2, max_length=4)] = "Drum"
    heads: Annotated[int, Field(gt=0, lt=3)] = 1
    inches: Annotated[float, Field(ge=6.5, le=30.0)] = 14.0
    width: Width = Width.MONO
    wires: bool = False
    lugs: Annotated[tuple[int, ...], Field(min_length=1, max_length=2)] = (1,)
    inside: Annotated[Tin | Box, Field(discriminator="kind")] = Tin()
    shell: Tin = Tin()

    @model_validator(mode="after")
    def _sounds(self) -> "Drum":
        if self.name == "Hush":
            raise ValueError("A drum that is hushed makes no sound")
        return self


@pytest.mark.parametrize(
    ("given", "said"),
    [
        ({"name": 4}, "it has to be text"),
        ({"name": "D"}, "it has to have 2 or more characters"),
        ({"name": "Drums"}, "it has to have 4 or fewer characters"),
        ({"name": "Hush"}, "a drum that is hushed makes no sound"),
        ({"heads": "two"}, "it has to be a whole number"),
        ({"heads": None}, "it has to be a whole number"),
        ({"heads": 1.5}, "it has to be a whole number"),
        ({"heads": 0}, "it has to be over 0"),
        ({"heads": 3}, "it has to be under 3"),
        ({"inches": []}, "it has to be a number"),
        ({"inches": "wide"}, "it has to be a number"),
        ({"inches": float("inf")}, "it has to be a number with an end"),
        ({"inches": 6.0}, "it has to be 6.5 or more"),
        ({"inches": 31}, "it has to be 30 or less"),
        ({"width": "wide"}, "it has to be mono or stereo"),
        ({"wires": "often"}, "it has to be true or false"),
        ({"wires": []}, "it has to be true or false"),
        ({"lugs": 4}, "it has to be a list"),
        ({"lugs": []}, "it has to hold 1 or more"),
        ({"lugs": [1, 2, 3]}, "it has to hold 2 or fewer"),
        ({"inside": {"kind": "bag"}}, "it is of no kind that is known"),
        ({"inside": {}}, "it does not say of which kind it is"),
        ({"shell": 4}, "it has to be an object with fields of its own"),
        ({"shell": {"kind": "box"}}, "it has to be tin"),
        ({"strap": 1}, "nothing here is called that"),
    ],
)
def test_what_is_wrong_with_a_field_is_told_in_plain_words(given: dict[str, object], said: str):
    with pytest.raises(ValidationError) as refused:
        Drum.model_validate(given)
    assert why_misread(refused.value.errors()[0]) == said
