"""The API's description, from which the interface's types are generated. It is made once, because it takes seconds.
`python -m studio.http.openapi FILE` writes it.
"""

import functools
import json
import os
import sys
from pathlib import Path

import django


@functools.cache
def document() -> bytes:
    """The OpenAPI document as JSON."""
    from studio.http.api import api

    return (json.dumps(api.get_openapi_schema(), indent=1, sort_keys=True) + "\n").encode()


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")
    django.setup()
    target = Path(sys.argv[1])
    target.parent.mkdir(parents=True, exist_ok=True)
    target.write_bytes(document())


if __name__ == "__main__":
    main()
