"""Requests made up from the API's own document, some as it says and most not: to see that none is answered by a fault."""

import json
import random
from collections.abc import Iterator
from typing import Any
from urllib.parse import quote

HOSTILE: tuple[Any, ...] = (
    None, True, -1, 0, 2**63, 2**200, -1e308, 1e-320, "", " ", "\0", "\ud800", "../../etc/passwd", "a" * 3000, "🥁" * 50,
    "-0", "NaN", "' OR 1=1 --", "%00", "\n\r", [], {}, [[[[[[]]]]]], {"$ref": "#"}, [None] * 50,
)  # fmt: skip
RAW = (b"", b"{", b"[" * 5000, b'{"name": NaN}', b'{"name": "\\ud800"}', b"\xff\xfe", b"null", b'"text"')


class Hostile:
    """Makes requests; `known` are identifiers that exist, by the name of the parameter that takes them."""

    def __init__(self, document: dict[str, Any], known: dict[str, list[str]], seed: int) -> None:
        self.document, self.known, self.random = document, known, random.Random(seed)
        self.operations = [
            (method, path, operation)
            for path, methods in document["paths"].items()
            for method, operation in methods.items()
            if method in ("get", "post", "put", "delete")
        ]

    def requests(self, count: int) -> Iterator[tuple[str, str, bytes | None]]:
        """Method, address and body of so many, every operation in turn."""
        for number in range(count):
            method, path, operation = self.operations[number % len(self.operations)]
            asked = []
            for parameter in operation.get("parameters", ()):
                value = self._parameter(parameter)
                text = value if isinstance(value, str) else json.dumps(value)
                text = quote(text.encode("utf-8", "surrogatepass"), safe="")
                if parameter["in"] == "path":
                    path = path.replace(f"{{{parameter['name']}}}", text or "-")
                elif self.random.random() < 0.8:
                    asked.append(f"{parameter['name']}={text}")
            content = operation.get("requestBody", {}).get("content", {})
            schema = content.get("application/json", {}).get("schema")
            yield method, path + ("?" + "&".join(asked) if asked else ""), self._body(schema) if content else None

    def _parameter(self, parameter: dict[str, Any]) -> Any:
        known = self.known.get(parameter["name"])
        if known and self.random.random() < 0.7:
            return self.random.choice(known)
        return self._value(parameter["schema"], 0)

    def _body(self, schema: dict[str, Any] | None) -> bytes:
        if schema is None or self.random.random() < 0.1:
            return self.random.choice(RAW)
        return json.dumps(self._value(schema, 0)).encode()

    def _value(self, schema: dict[str, Any], depth: int) -> Any:
        if self.random.random() < 0.06:
            return self.random.choice(HOSTILE)
        if "$ref" in schema:
            target: Any = self.document
            for part in schema["$ref"].removeprefix("#/").split("/"):
                target = target[part]
            return self._value(target, depth)
        if "const" in schema:
            return schema["const"]
        if "enum" in schema:
            return self.random.choice(schema["enum"])
        for several in ("anyOf", "oneOf", "allOf"):
            if several in schema:
                return self._value(self.random.choice(schema[several]), depth)
        return self._of_type(schema, depth)

    def _of_type(self, schema: dict[str, Any], depth: int) -> Any:
        kind, draw = schema.get("type"), self.random
        if kind == "object" or "properties" in schema:
            properties, needed = schema.get("properties", {}), schema.get("required", ())
            return {
                name: self._value(of, depth + 1)
                for name, of in properties.items()
                if (name in needed and draw.random() < 0.97) or draw.random() < 0.6
            }
        if kind == "array":
            items = schema.get("items") or schema.get("prefixItems", [{}])[0]
            return [self._value(items, depth + 1) for _ in range(draw.choice((0, 1, 1, 2, 3)) if depth < 6 else 0)]
        low, high = schema.get("minimum", -5), schema.get("maximum", 200)
        if kind == "integer":
            return draw.choice((low, high, draw.randint(int(low), int(high))))
        if kind == "number":
            return draw.choice((low, high, draw.uniform(float(low), float(high))))
        if kind == "boolean":
            return draw.random() < 0.5
        names = [name for known in self.known.values() for name in known]
        return draw.choice((*names, "snare/centre", "snare", "kick", "snare-mic", "snare-channel", "t1", "Salt"))


def spoilt(data: bytes, draw: random.Random) -> bytes:
    """A file with bytes turned, a stretch gone or repeated, cut short or with something behind it."""
    spoiled = bytearray(data)
    for _ in range(draw.choice((1, 1, 3, 30))):
        at = draw.randrange(len(spoiled))
        spoiled[at] = draw.randrange(256)
    at, length = draw.randrange(len(spoiled)), draw.randrange(1, 200)
    return bytes(
        draw.choice(
            (
                spoiled,
                spoiled[:at],
                spoiled[:at] + spoiled[at + length :],
                spoiled[: at + length] + spoiled[at:],
                spoiled + draw.randbytes(length),
                draw.randbytes(length),
            )
        )
    )
