"""Prints the OpenAPI document, from which the pages' types are made: python -m pronostico.api.openapi."""

import json
import tempfile
from pathlib import Path
from typing import Any

from pronostico.api.app import create_app
from pronostico.store.database import Database


def openapi_document() -> dict[str, Any]:
    """The OpenAPI document of the application."""
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder) / "empty.sqlite")
        document = create_app(database, Path(folder)).openapi()
        database.close()
    return document


if __name__ == "__main__":
    print(json.dumps(openapi_document(), indent=2))
