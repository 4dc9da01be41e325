"""The study's models: kept under names, compared, made current, renamed, thrown away."""

from __future__ import annotations

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.actions import Menu, action
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.core.study.edits.models import keep_model, make_current, rename_model, throw_away_model
from yellow_slope.core.words.names.study import model_name


class KeptModels:
    """What is done with whole models."""

    def __init__(self, session: StudySession, dialogs: Dialogs) -> None:
        self.session, self.dialogs = session, dialogs

    def has_model(self) -> bool:
        """Whether there is a model to keep."""
        study = self.session.study
        return bool(study.model.terms)

    def has_several(self) -> bool:
        """Whether there are several models."""
        return len(self.session.study.models) > 1

    @action(
        "keep the model",
        "Keep the present model under a name and go on with a copy of it, beside it",
        "Ctrl+Shift+K",
        menu=Menu.MODELS,
        available="has_model",
    )
    def keep(self) -> None:
        """Ask for a name, keep the model under it, and compare with it from now on."""
        study = self.session.study
        said = self.dialogs.text("Keep the model", "Keep the present model under this name:", study.model.name)
        if said is None:
            return
        kept = study.current
        if self.session.edit(f"keep “{said.strip()}”", lambda s: keep_model(s, said)):
            self.session.look(compared=kept, open_step=None)
            self.session.say(
                f"Kept as “{said.strip()}”. A copy of it is now current, and the kept model is shown beside it."
            )

    @action(
        "work on another model",
        "Make another model of the study the current one",
        menu=Menu.MODELS,
        available="has_several",
    )
    def choose_current(self) -> None:
        """Ask which model to work on."""
        chosen = self._ask("Work on", "Which model should become current?", others=True)
        if chosen is not None:
            self.make_current(chosen)

    @action(
        "compare with another model",
        "Show a kept model beside the current one in every cell; again: stop",
        "Ctrl+Shift+M",
        menu=Menu.MODELS,
        available="has_several",
    )
    def choose_compared(self) -> None:
        """Compare with the only other model, or ask with which; where one is compared already, no longer."""
        if self.session.desk.compared is not None:
            self.session.look(compared=None)
            return
        chosen = self._ask("Compare", "Which model should be shown beside this one?", others=True)
        if chosen is not None:
            self.compare(chosen)

    @action("rename a model", "Give one of the study's models another name", menu=Menu.MODELS, available="has_model")
    def choose_renamed(self) -> None:
        """Ask which model and for its name."""
        chosen = self._ask("Rename", "Which model should be renamed?", others=False)
        if chosen is not None:
            self.rename(chosen)

    @action("delete a model", "Delete one of the study's models", menu=Menu.MODELS, available="has_several")
    def choose_thrown(self) -> None:
        """Ask which model is not needed any longer."""
        chosen = self._ask("Delete", "Which model should be deleted? This can be undone.", others=False)
        if chosen is not None:
            self.throw_away(chosen)

    def _ask(self, title: str, question: str, others: bool) -> str | None:
        """One of the models; without a question where there is only one to choose."""
        study = self.session.study
        models = [m for m in study.models if not others or m.id != study.current]
        if len(models) == 1:
            return models[0].id
        said = self.dialogs.one_of(title, question, [model_name(study, m) for m in models])
        return None if said is None else models[said].id

    # ---- doing it

    def make_current(self, model_id: str) -> None:
        """Work on a model; the one that was worked on stands beside it."""
        study = self.session.study
        if model_id == study.current:
            return
        before, name = study.current, model_name(study, study.model_of(model_id))
        comparing = self.session.desk.compared is not None
        if self.session.edit(f"work on “{name}”", lambda s: make_current(s, model_id)):
            self.session.look(cell=None, open_step=None, flag=None, compared=before if comparing else None)

    def compare(self, model_id: str) -> None:
        """Let a model stand beside the current one; the same again: no longer."""
        study = self.session.study
        if model_id == study.current:
            return
        self.session.look(compared=None if self.session.desk.compared == model_id else model_id)

    def rename(self, model_id: str) -> None:
        """Ask for a model's name."""
        study = self.session.study
        said = self.dialogs.text("Rename the model", "Name of the model:", study.model_of(model_id).name)
        if said is not None:
            self.session.edit("rename a model", lambda s: rename_model(s, model_id, said))

    def throw_away(self, model_id: str) -> None:
        """Do without a model."""
        study = self.session.study
        name = model_name(study, study.model_of(model_id))
        if self.session.edit(f"delete “{name}”", lambda s: throw_away_model(s, model_id)):
            self.session.say(f"“{name}” was deleted; undo brings it back.")
