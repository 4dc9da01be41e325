"""Where keys are meant: an action's keys are bound at the widgets of its scope, whichever of the two is there first."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QWidget

from yellow_slope.app.verbs.actions import Action, ActionTable, Scope

AROUND, ALONE = Qt.ShortcutContext.WidgetWithChildrenShortcut, Qt.ShortcutContext.WidgetShortcut
CONTEXTS = {
    Scope.EVERYWHERE: Qt.ShortcutContext.WindowShortcut,
    **dict.fromkeys((Scope.PROBE, Scope.STRIP, Scope.CHECKS), AROUND),
}
"""Where keys of a scope are heard; of other scopes where their home has the keyboard itself."""


class KeyHomes:
    """The widgets that hear the keys of each scope; single keys only where they are meant."""

    def __init__(self, actions: ActionTable) -> None:
        self._actions = actions
        self._homes: dict[Scope, list[QWidget]] = {}
        actions.whenever_added(self._added)

    def add_home(self, scope: Scope, *homes: QWidget) -> None:
        """Keys of the scope are heard here: those of the actions there are, and of those to come."""
        for home in homes:
            self._homes.setdefault(scope, []).append(home)
            for action in self._actions:
                if action.scope is scope:
                    self.bind(action, home, CONTEXTS.get(scope, ALONE))

    def _added(self, action: Action) -> None:
        for home in self._homes.get(action.scope, ()):
            self.bind(action, home, CONTEXTS.get(action.scope, ALONE))

    def bind(self, action: Action, home: QWidget, context: Qt.ShortcutContext) -> None:
        """Let one action's keys be heard at a widget."""
        bound = QAction(action.title, home)
        bound.setShortcuts([QKeySequence(key) for key in action.keys])
        bound.setShortcutContext(context)
        bound.triggered.connect(partial(self._run, action.id))
        home.addAction(bound)

    def _run(self, id: str, _checked: bool = False) -> None:
        self._actions.run(id)
