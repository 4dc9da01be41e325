"""Write docs/keys.md from the table of actions."""

from __future__ import annotations

from pathlib import Path

from yellow_slope.app.main import application
from yellow_slope.app.verbs.actions import keys_page
from yellow_slope.app.window import Window

application()
window = Window()
window.place.build_all()
(Path(__file__).resolve().parent.parent / "docs" / "keys.md").write_text(keys_page(window.place.actions_table))
window.worker.end()
