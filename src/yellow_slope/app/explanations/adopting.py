"""A rival in place of what is: adopted as an edit, or beside it as a second model."""

from __future__ import annotations

from yellow_slope.app.state.session import StudySession
from yellow_slope.core.errors import StudyError
from yellow_slope.core.stand.rivals import Rival, adopt, can_be_adopted
from yellow_slope.core.stand.standing import Row, Stand
from yellow_slope.core.study.edits.models import keep_model, rename_model
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.sentences.rivals import adopted_reason, rival_name


def adopt_rival(session: StudySession, stand: Stand, row: Row, keep: bool) -> bool:
    """Adopt a rival; keep: the present model stays, and the rival stands beside it as another. Whether it was."""
    study = session.study
    if not can_be_adopted(row.rival):
        session.say("This is one model for each case: set a case aside to see one of them.")
        return False
    name = rival_name(study, row.rival)
    product, before = stand.asked.product, study.current
    if not keep:
        return session.edit(f"adopt “{name}”", lambda s: adopted(s, row.rival, product))
    done = session.edit(f"keep “{name}” as a model", lambda s: kept_beside(s, row.rival, product))
    if done:
        session.look(compared=before, open_step=None)
        session.say(f"A second model, “{name}”, is now current; the previous one is shown beside it.")
    return done


def adopted(study: Study, rival: Rival, product: Term) -> Study:
    """The study with the rival adopted. StudyError where that changes nothing."""
    new = adopt(study, rival, product, adopted_reason(study, rival))
    if new is study:
        raise StudyError("It changes nothing here.")
    return new


def kept_beside(study: Study, rival: Rival, product: Term) -> Study:
    """The present model kept under a name, and the rival adopted in a copy that bears the rival's."""
    name = rival_name(study, rival)
    kept = keep_model(study, study.model.name or _free(study, "original"))
    return rename_model(adopted(kept, rival, product), kept.current, _free(kept, name))


def _free(study: Study, name: str) -> str:
    """The name, or with a number where a model has it."""
    taken, number, found = {model.name for model in study.models}, 2, name
    while found in taken:
        found, number = f"{name} {number}", number + 1
    return found
