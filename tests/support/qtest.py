"""Qt's own hands on widgets. Its type stubs take static methods for methods, so it is typed as anything, here alone."""

from __future__ import annotations

from typing import Any

from PyQt6 import QtTest

QTest: Any = QtTest.QTest
