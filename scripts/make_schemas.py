"""Write the JSON Schemas in docs/schemas anew, from what the readers accept.

.venv/bin/python scripts/make_schemas.py
"""

import json
from pathlib import Path

from tamarind.formats import everything
from tamarind.language import housestyle
from tamarind.picture import looks

FOLDER = Path(__file__).parent.parent / "docs" / "schemas"
SCHEMAS = {
    "transcript.schema.json": everything.schema(),
    "house-style.schema.json": housestyle.schema(),
    "look.schema.json": looks.schema(),
}


def text_of(schema: object) -> str:
    """A schema as it stands in its file."""
    return json.dumps(schema, indent=1, ensure_ascii=False) + "\n"


def main() -> None:
    """Write them."""
    FOLDER.mkdir(exist_ok=True)
    for name, schema in SCHEMAS.items():
        (FOLDER / name).write_text(text_of(schema), "utf-8")


if __name__ == "__main__":
    main()
