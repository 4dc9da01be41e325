"""Write docs/schemas from the program's own documents."""

from __future__ import annotations

import json
from pathlib import Path

from yellow_slope.files.study.documents import SpecDocument, StudyDocument
from yellow_slope.files.written.resultparts import ResultsDocument

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "schemas"

for name, document in (("results", ResultsDocument), ("spec", SpecDocument), ("study", StudyDocument)):
    text = json.dumps(document.model_json_schema(), indent=1, ensure_ascii=False) + "\n"
    (FOLDER / f"{name}.schema.json").write_text(text)
