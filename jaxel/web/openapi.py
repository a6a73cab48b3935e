"""Prints the application's OpenAPI description, from which the front end's types are made.

python -m jaxel.web.openapi > frontend/openapi.json
"""

import json
import tempfile
from pathlib import Path

from .app import create_app
from .record.blueprint import describe


def main() -> None:
    """Print the description of an application on an empty database."""
    with tempfile.TemporaryDirectory() as folder:
        print(json.dumps(describe(create_app(Path(folder) / "empty.db")), indent=1))


if __name__ == "__main__":
    main()
