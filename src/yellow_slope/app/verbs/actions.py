"""The table of actions: everything a user can do, registered once on the method that does it.

Menus, buttons, tooltips, the command finder and docs/keys.md are all made from it.
"""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator
from enum import Enum, auto
from operator import attrgetter
from typing import Any, TypeVar

from yellow_slope.core.kinds import Named
from yellow_slope.values import dataclass, replace


class Scope(Named):
    """Where an action's keys are meant; roster and ladder, where single letters are keys, are TERMS."""

    EVERYWHERE = "everywhere", "everywhere"
    TERMS = "terms", "on variables and terms"
    PROBE = "probe", "at the waypoint Probe"
    HANDLE = "handle", "on the handle"
    ROSTER = "roster", "in the roster"
    LADDER = "ladder", "in the ladder"
    TRAIL = "trail", "on the trail"
    STRIP = "strip", "on a strip"
    CARD = "card", "on the code card"
    EFFECTS = "effects", "in the table of effects"
    TABLE = "table", "in the table"
    BELOW = "below", "below the ladder"
    CHECKS = "checks", "at the waypoint Checks"
    FIGURE = "figure", "on a figure that is tuned"
    PARTS = "parts", "on the parts of the report"


class Menu(Enum):
    """The menus that are made from the table of actions."""

    STUDY = auto()
    MODELS = auto()
    VARIABLE = auto()
    TERM = auto()
    CASE = auto()


log = logging.getLogger(__name__)
F = TypeVar("F", bound=Callable[..., Any])


@dataclass(frozen=True, slots=True)
class Action:
    """One thing a user can do."""

    id: str
    """The method that does it; whatever a person reads may change."""
    name: str
    """Plain words, as in “multiply the chosen”."""
    help: str
    """One line, as it stands in tooltips."""
    run: Callable[[], object]
    keys: tuple[str, ...] = ()
    scope: Scope = Scope.EVERYWHERE
    menu: Menu | None = None
    """The menu it stands in; none: finder and keys only."""
    available: Callable[[], bool] = lambda: True

    @property
    def title(self) -> str:
        """The name with a capital."""
        return self.name[:1].upper() + self.name[1:]

    @property
    def tooltip(self) -> str:
        """Help and keys."""
        return f"{self.help} ({self.keys[0]})" if self.keys else self.help


def action(
    name: str, help: str, *keys: str, scope: Scope = Scope.EVERYWHERE, menu: Menu | None = None, available: str = ""
) -> Callable[[F], F]:
    """Register the method as an action. `available`: what of the owner says whether it can be run, a method or property
    (as in "session.is_open")."""

    def mark(method: F) -> F:
        method.__dict__["action"] = (name, help, keys, scope, menu, available)
        return method

    return mark


def id_of(method: Callable[..., object]) -> str:
    """The id of the action that a method, bound or not, was registered as."""
    return method.__qualname__


def actions_of(owner: object) -> list[Action]:
    """The actions that an object's methods were registered as, in the order of their definition."""
    found: list[Action] = []
    for kind in reversed(type(owner).__mro__):
        for attribute, method in vars(kind).items():
            marked = getattr(method, "action", None)
            if marked is None or not callable(method):
                continue
            name, help, keys, scope, menu, available = marked
            made = Action(id_of(method), name, help, getattr(owner, attribute), keys, scope, menu)
            if available:
                made = replace(made, available=_asker(owner, available))
            found.append(made)
    return found


def _asker(owner: object, attribute: str) -> Callable[[], bool]:
    def ask() -> bool:
        value = attrgetter(attribute)(owner)
        return bool(value() if callable(value) else value)

    return ask


class ActionTable:
    """Actions: by the rank of who does them, and then in the order in which they were registered."""

    def __init__(self) -> None:
        self._actions: dict[str, Action] = {}
        self._ranks: dict[str, int] = {}
        self._changed: list[Callable[[Action], None]] = []

    def add(self, action: Action, rank: int = 0) -> Action:
        """Register an action; two of one id or name, or one key twice in a scope, are mistakes in the program."""
        if action.id in self._actions:
            raise ValueError(f"{action.id!r} is registered twice")
        for other in self._actions.values():
            if other.name == action.name:
                raise ValueError(f"two actions are named {action.name!r}")
            shared = set(other.keys) & set(action.keys)
            if shared and Scope.EVERYWHERE in (other.scope, action.scope):
                raise ValueError(f"{action.name!r} and {other.name!r} share {shared}")
            if shared and other.scope == action.scope:
                raise ValueError(f"{action.name!r} and {other.name!r} share {shared}")
        self._actions[action.id], self._ranks[action.id] = action, rank
        for call in self._changed:
            call(action)
        return action

    def add_all(self, owner: object, rank: int = 0) -> None:
        """Register everything that an object's methods were marked as."""
        for found in actions_of(owner):
            self.add(found, rank)

    def whenever_added(self, call: Callable[[Action], None]) -> None:
        """Call for every action, those there already and those to come."""
        for action in self:
            call(action)
        self._changed.append(call)

    def of(self, method: Callable[..., object]) -> Action:
        """The action that a method was registered as."""
        return self._actions[id_of(method)]

    def __iter__(self) -> Iterator[Action]:
        return iter(sorted(self._actions.values(), key=lambda action: self._ranks[action.id]))

    def run(self, id: str) -> None:
        """Run an action if it is available."""
        action = self._actions[id]
        if action.available():
            log.info("%s", id)
            action.run()

    def menu(self, menu: Menu) -> list[Action]:
        """The actions of a menu."""
        return [action for action in self if action.menu is menu]

    def matching(self, text: str) -> list[Action]:
        """Available actions whose name or help holds all words of the text; those whose name begins with it first."""
        words = text.casefold().split()
        found = [
            action
            for action in self
            if action.available() and all(w in f"{action.name} {action.help}".casefold() for w in words)
        ]
        return sorted(found, key=lambda a: (not a.name.casefold().startswith(text.casefold()), a.name))


def keys_page(table: ActionTable) -> str:
    """docs/keys.md."""
    lines = [
        "# Keys",
        "",
        "Made from the program's table of actions by `make keys`. Every action is also in the command finder (Ctrl+K).",
        "",
    ]
    for scope in dict.fromkeys(action.scope for action in table):
        where = scope.label
        lines += [f"## {where[:1].upper()}{where[1:]}", "", "| Keys | Action | What it does |", "|---|---|---|"]
        for action in table:
            if action.scope == scope:
                keys = " or ".join(f"`{key}`" for key in action.keys) or "–"
                lines.append(f"| {keys} | {action.title} | {action.help} |")
        lines.append("")
    return "\n".join(lines)
