"""The JSON Schema of the record, made from its models."""

import json

from pronostico.record.models import Record


def record_schema() -> dict[str, object]:
    """JSON Schema (draft 2020-12) of a record, as it is published in docs/schema."""
    schema: dict[str, object] = {"$schema": "https://json-schema.org/draft/2020-12/schema"}
    schema.update(Record.model_json_schema())
    return schema


def record_schema_text() -> str:
    """The published text of the schema, ending in a newline."""
    return json.dumps(record_schema(), indent=2, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    print(record_schema_text(), end="")
