"""Menus that are made from the table of actions, and that of the study with its models."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu, QWidget

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.actions import ActionTable, Menu
from yellow_slope.app.verbs.keptmodels import KeptModels
from yellow_slope.core.words.names.study import model_name


class Menus:
    """They are made when they are opened."""

    def __init__(self, session: StudySession, actions: ActionTable, models: KeptModels, parent: QWidget) -> None:
        self._session, self._actions, self._models, self._parent = session, actions, models, parent

    def study_menu(self) -> QMenu:
        """What is done with the study and its models, and the models themselves."""
        menu = self.menu(Menu.STUDY, Menu.MODELS)
        self._add_models(menu)
        return menu

    def _add_models(self, menu: QMenu) -> None:
        """The study's models, each with what can be done with it."""
        study = self._session.study
        if len(study.models) < 2:
            return
        menu.addSeparator()
        for model in study.models:
            mark = "● " if model.id == study.current else ""
            inner = QMenu(f"{mark}{model_name(study, model)}".replace("&", "&&"), menu)
            inner.setToolTipsVisible(True)
            compared = self._session.desk.compared == model.id
            offers = [
                ("Work on it", self._models.make_current, model.id != study.current),
                ("Stop comparing" if compared else "Compare with it", self._models.compare, model.id != study.current),
                ("Rename …", self._models.rename, True),
                ("Delete", self._models.throw_away, True),
            ]
            for text, run, there in offers:
                offered = QAction(text, inner)
                offered.setEnabled(there)
                offered.triggered.connect(partial(_with, run, model.id))
                inner.addAction(offered)
            menu.addMenu(inner)

    def menu(self, *kinds: Menu) -> QMenu:
        """A menu of the actions registered for it."""
        menu = QMenu(self._parent)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.setToolTipsVisible(True)
        for kind in kinds:
            if not menu.isEmpty():
                menu.addSeparator()
            for action in self._actions.menu(kind):
                shown = QAction(action.title, menu)
                if action.keys:
                    shown.setShortcut(QKeySequence(action.keys[0]))
                shown.setToolTip(action.help)
                shown.setEnabled(action.available())
                shown.triggered.connect(partial(self._run, action.id))
                menu.addAction(shown)
        return menu

    def _run(self, id: str, _checked: bool = False) -> None:
        self._actions.run(id)


def _with(run: Callable[[str], None], model_id: str, _checked: bool = False) -> None:
    run(model_id)
