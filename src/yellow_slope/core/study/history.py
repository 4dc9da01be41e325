"""What happens to a study, step by step, and what undo leads back to: what a journal keeps."""

from __future__ import annotations

from pathlib import Path
from typing import Generic, TypeVar, assert_never

from yellow_slope.values import dataclass, field

T = TypeVar("T")
"""A study, or the number under which a journal knows it."""


@dataclass(frozen=True, slots=True, eq=False)
class Opened(Generic[T]):
    """A study was opened. What came before is done with."""

    study: T
    path: Path | None = None
    """The study file it stands in."""
    source: Path | None = None
    """The file it was read from."""
    is_saved: bool = True
    """Whether nothing would be lost without it."""


@dataclass(frozen=True, slots=True, eq=False)
class Edited(Generic[T]):
    """The study became another. A quiet edit is no step of undo."""

    what: str
    study: T
    quiet: bool = False


@dataclass(frozen=True, slots=True)
class Undone:
    """The last edit was taken back."""


@dataclass(frozen=True, slots=True)
class Redone:
    """What was undone was done again."""


@dataclass(frozen=True, slots=True, eq=False)
class Saved(Generic[T]):
    """That study now stands in that file."""

    study: T
    path: Path


Step = Opened[T] | Edited[T] | Undone | Redone | Saved[T]


@dataclass(slots=True, eq=False)
class History(Generic[T]):
    """The past, the present and the future of one study, as steps make them."""

    study: T | None = None
    past: list[tuple[str, T]] = field(default_factory=list)
    """What each edit was called, and the study before it."""
    future: list[tuple[str, T]] = field(default_factory=list)
    """What each undone edit was called, and the study after it; the last is done again first."""
    saved: T | None = None
    """As it stands in its file, or as it was opened."""
    path: Path | None = None
    source: Path | None = None

    def take(self, step: Step[T]) -> None:
        """Go one step on."""
        match step:
            case Opened():
                self.past, self.study, self.future = [], step.study, []
                self.path, self.source = step.path, step.source
                self.saved = step.study if step.is_saved else None
            case Edited():
                if step.quiet:
                    self.saved = step.study if self.saved is self.study else self.saved
                elif self.study is not None:
                    self.past.append((step.what, self.study))
                    self.future.clear()
                self.study = step.study
            case Undone():
                self._turn(self.past, self.future)
            case Redone():
                self._turn(self.future, self.past)
            case Saved():
                self.saved, self.path = step.study, step.path
            case _:
                assert_never(step)

    def _turn(self, source: list[tuple[str, T]], target: list[tuple[str, T]]) -> None:
        if source and self.study is not None:
            what, study = source.pop()
            target.append((what, self.study))
            self.study = study

    def steps(self, fewer: int = 0) -> list[Step[T]]:
        """Steps that lead here, without the first `fewer` edits. None where there is no study."""
        if self.study is None:
            return []
        line = [*self.past[fewer:], ("", self.study), *((what, study) for what, study in reversed(self.future))]
        names = [what for what, _ in self.past[fewer:]] + [what for what, _ in reversed(self.future)]
        out: list[Step[T]] = [Opened(line[0][1], self.path, self.source, line[0][1] is self.saved)]
        out += [Edited(what, study) for what, (_, study) in zip(names, line[1:], strict=True)]
        out += [Undone()] * len(self.future)
        if self.path is not None and self.saved is not line[0][1] and any(s is self.saved for _, s in line):
            assert self.saved is not None
            out.append(Saved(self.saved, self.path))
        return out

    def unsaved(self) -> list[str]:
        """What the edits are called that would be lost; empty where nothing would be."""
        if self.study is self.saved:
            return []
        line = [study for _, study in self.past]
        begin = next((i for i, study in enumerate(line) if study is self.saved), None)
        if begin is not None:
            return [what for what, _ in self.past[begin:]]
        ahead = next((i for i, (_, study) in enumerate(reversed(self.future)) if study is self.saved), None)
        if ahead is not None:
            return [f"undone: {what}" for what, _ in list(reversed(self.future))[: ahead + 1]]
        return [what for what, _ in self.past] or ["what was taken up before"]
