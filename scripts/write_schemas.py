"""Write docs/schemas from the types of the program's documents."""

from __future__ import annotations

import json
from pathlib import Path

from yellow_slope.files.schemas import DOCUMENTS, schema_of

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "schemas"

for name, document in DOCUMENTS.items():
    text = json.dumps(schema_of(document), indent=1, ensure_ascii=False) + "\n"
    (FOLDER / f"{name}.schema.json").write_text(text)
