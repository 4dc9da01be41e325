"""Saving the study: whole or not at all, never over what somebody else wrote meanwhile, and before it is left."""

from __future__ import annotations

import logging
import os
from itertools import count
from pathlib import Path

from yellow_slope.app.state.recentfiles import remember
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.worker import WRONG, Job, Worker, given_up
from yellow_slope.app.verbs.actions import Menu, action
from yellow_slope.app.verbs.targets import Targets, saved
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.files.safely.atomically import Stamp, has_other_names, stamp_of
from yellow_slope.values import dataclass

log = logging.getLogger(__name__)
OTHER_NAME = "Its other name (a hard link) keeps the earlier content."


@dataclass(frozen=True, slots=True)
class _Saved:
    """A study file that was written."""

    stamp: Stamp | None
    remarks: tuple[str, ...]


class Saving:
    """Asks where, and what is to be done where something stands in the way."""

    def __init__(self, session: StudySession, worker: Worker, targets: Targets) -> None:
        self.session, self.worker, self.targets, self.dialogs = session, worker, targets, targets.dialogs

    @action("save", "Save the study to its file", "Ctrl+S", menu=Menu.STUDY, available="session.is_open")
    def save(self) -> None:
        """Save where the study stands, else ask where."""
        self._save_to(self.session.path or self._ask_path())

    @action("save as", "Save the study in another file", "Ctrl+Shift+S", menu=Menu.STUDY, available="session.is_open")
    def save_as(self) -> None:
        """Ask where to save."""
        self._save_to(self._ask_path(), is_chosen=True)

    def may_leave(self) -> bool:
        """Ask before a changed study is left."""
        study = self.session.study
        if self.session.is_saved:
            return True
        said = f"“{study.name}” has changes that are not saved."
        path, is_chosen = self.session.path, False
        while True:
            answer = self.dialogs.choose("Leave the study?", said, "Save", "Leave without saving", "Stay")
            if answer != 0:
                return answer == 1
            if path is None:
                path, is_chosen = self._ask_path(), True
            if path is not None and not is_chosen:
                path, is_chosen = self._agreed(path, self._in_the_way(path, stamp_of(path))), True
            wrong = self._save_now(path) if path is not None else "No place to save it was given."
            if not wrong:
                return True
            self.session.say(wrong)
            said, path = f"“{study.name}” is not saved. {wrong} Save it elsewhere?", None

    def _ask_path(self) -> Path | None:
        return self.targets.asked("Save study", ".yslope", "Studies (*.yslope)")

    # ---- someone else's hands

    def _in_the_way(self, path: Path, found: Stamp | None) -> str:
        """What has happened to the study's file since it was read or written here; empty where nothing has."""
        if path != self.session.path or found == self.session.stamp:
            return ""
        if found is None:
            return f"“{path.name}” is no longer in {path.parent}: it was moved or deleted."
        return f"“{path.name}” was written by somebody else since it was opened here, or by another window."

    def _agreed(self, path: Path, in_the_way: str) -> Path | None:
        """Where the study is saved after what stands in the way was asked about; None: nowhere."""
        if not in_the_way:
            return path
        if stamp_of(path) is None:
            answers = ["Save it there again", "Save elsewhere", "Do not save"]
        else:
            answers = ["Keep both", "Save elsewhere", "Overwrite it", "Do not save"]
        answer = answers[self.dialogs.choose("The file has changed", in_the_way, *answers)]
        if answer == "Keep both":
            return beside(path)
        if answer == "Save elsewhere":
            return self._ask_path()
        return path if answer in ("Overwrite it", "Save it there again") else None

    # ---- writing

    def _save_to(self, path: Path | None, is_chosen: bool = False) -> None:
        """Save on the worker. `is_chosen`: somebody said that it goes there whatever is there."""
        study = self.session.study
        if path is None:
            return

        def work(job: Job) -> _Saved | str:
            from yellow_slope.files.safely.atomically import write_whole
            from yellow_slope.files.study.studyfile import packed

            in_the_way = "" if is_chosen else self._in_the_way(path, stamp_of(path))
            if in_the_way:
                return in_the_way
            content = packed(study)
            job.go_on()
            other = [OTHER_NAME] if has_other_names(path) else []
            remarks = write_whole(path, content)
            remember(path)
            return _Saved(stamp_of(path), (*other, *remarks))

        def saved_or_not(found: _Saved | str) -> None:
            if isinstance(found, str):
                self._save_to(self._agreed(path, found), is_chosen=True)
                return
            self.session.mark_saved(path, study, found.stamp)
            self.session.say(saved([path], *found.remarks))

        def not_saved(why: str) -> None:
            self.session.say(why)
            if why == given_up(f"saving {path.name}"):
                return
            if self.dialogs.choose("The study is not saved", why, "Save elsewhere", "Leave it unsaved") == 0:
                self._save_to(self._ask_path(), is_chosen=True)

        self.worker.in_order(f"saving {path.name}", work, saved_or_not, not_saved)

    def _save_now(self, path: Path) -> str:
        """Save before the study is left; why that failed, whatever it was, else nothing."""
        from yellow_slope.files.study.studyfile import write_study

        study = self.session.study
        try:
            remarks = write_study(study, path)
        except YellowSlopeError as error:
            return str(error)
        except Exception:
            log.exception("the study could not be saved")
            return WRONG
        self.session.mark_saved(path, study, stamp_of(path))
        if remarks:
            self.session.say(saved([path], *remarks))
        return ""


def beside(path: Path) -> Path:
    """A name beside that file that nothing has yet: “evening 2.yslope”."""
    return next(p for i in count(2) if not os.path.exists(p := path.with_name(f"{path.stem} {i}{path.suffix}")))
