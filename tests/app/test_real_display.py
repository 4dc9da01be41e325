"""A few checks in a real window on a display of their own, with the platform that users have."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.support.places import ROOT

SCRIPT = """
import sys
sys.path.insert(0, sys.argv[1])
from tests.support.windowdriver import Hands
from yellow_slope.demo.learners import TABLE

hands = Hands()
assert hands.app.platformName() == "xcb", hands.app.platformName()
hands.types(str(TABLE))
hands.press("Ctrl+L")
hands.types("control = practice centered, worry centered; practice x worry")
hands.press("Alt+5")
print(hands.sentence())
screen = hands.window.screen()
picture = screen.grabWindow(0, 0, 0, 1280, 800).toImage()
colours = {picture.pixelColor(x, y).name() for x in range(0, 1280, 7) for y in range(0, 800, 7)}
print("#f5b800" in colours, len(colours) > 20)
hands.close()
"""


@pytest.fixture
def display() -> Iterator[str]:
    """The name of a display without a screen."""
    if shutil.which("Xvfb") is None:
        pytest.skip("Xvfb is not installed; scripts/setup.sh installs it where it may")
    reading, writing = os.pipe()
    server = subprocess.Popen(
        ["Xvfb", "-displayfd", str(writing), "-screen", "0", "1280x800x24", "-nolisten", "tcp"],
        pass_fds=[writing],
        stderr=subprocess.DEVNULL,
    )
    os.close(writing)
    with os.fdopen(reading) as pipe:
        number = pipe.readline().strip()
    yield f":{number}"
    server.terminate()
    server.wait(timeout=10)


def environment(display: str, tmp_path: Path) -> dict[str, str]:
    kept = {k: v for k, v in os.environ.items() if not k.startswith("QT_") and k != "WAYLAND_DISPLAY"}
    return {**kept, "DISPLAY": display, "QT_QPA_PLATFORM": "xcb", "XDG_STATE_HOME": str(tmp_path)}


@pytest.mark.xvfb
def test_from_a_table_to_a_probed_product_on_a_real_display(display: str, tmp_path: Path) -> None:
    done = subprocess.run(
        [sys.executable, "-c", SCRIPT, str(ROOT)],
        env=environment(display, tmp_path),
        capture_output=True,
        text=True,
        timeout=120,
    )
    assert done.returncode == 0, done.stderr
    sentence, seen = done.stdout.strip().splitlines()
    assert sentence.startswith("In words: at worry 3.74, per further hour of practice, control score is ")
    assert seen == "True True"


@pytest.mark.xvfb
def test_the_demo_command_opens_a_window_where_there_is_a_display(display: str, tmp_path: Path) -> None:
    command = [sys.executable, "-m", "yellow_slope", "demo", "--to", str(tmp_path / "demo")]
    running = subprocess.Popen(command, env=environment(display, tmp_path), stderr=subprocess.DEVNULL)
    try:
        with pytest.raises(subprocess.TimeoutExpired):
            running.wait(timeout=5)
        assert not (tmp_path / "demo").exists()
    finally:
        running.terminate()
        running.wait(timeout=10)
