"""`python -m studio.openapi FILE`: write the API's description, from which the interface's types are made."""

import json
import os
import sys
from pathlib import Path

import django


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")
    django.setup()
    from studio.api import api

    target = Path(sys.argv[1])
    target.parent.mkdir(parents=True, exist_ok=True)
    target.write_text(json.dumps(api.get_openapi_schema(), indent=1, sort_keys=True) + "\n")


if __name__ == "__main__":
    main()
