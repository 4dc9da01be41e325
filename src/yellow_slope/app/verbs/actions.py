"""The table of actions: everything a user can do, registered once on the method that does it.

Menus, buttons, tooltips, the command finder and docs/keys.md are all made from it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Any, TypeVar

EVERYWHERE = "everywhere"
TERMS = "on variables and terms"
"""In roster and ladder, where single letters are keys."""
PROBE = "at the waypoint Probe"
HANDLE = "on the handle"
ROSTER = "in the roster"
LADDER = "in the ladder"
TRAIL = "on the trail"
STRIP = "on a strip"
CARD = "on the code card"
EFFECTS = "in the table of effects"
TABLE = "in the table"
BELOW = "below the ladder"

F = TypeVar("F", bound=Callable[..., Any])


@dataclass(frozen=True, slots=True)
class Action:
    """One thing a user can do."""

    name: str
    """Stable and plain, as in “multiply the chosen”."""
    help: str
    """One line, as it stands in tooltips."""
    run: Callable[[], object]
    keys: tuple[str, ...] = ()
    scope: str = EVERYWHERE
    menu: str = ""
    """The menu it stands in: “study”, “variable”, “term”; empty: finder and keys only."""
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
    name: str, help: str, *keys: str, scope: str = EVERYWHERE, menu: str = "", available: str = ""
) -> Callable[[F], F]:
    """Register the method as an action. `available`: the owner's method or property that says whether it can be run."""

    def mark(method: F) -> F:
        method.__dict__["action"] = (name, help, keys, scope, menu, available)
        return method

    return mark


def actions_of(owner: object) -> list[Action]:
    """The actions that an object's methods were registered as, in the order of their definition."""
    found: list[Action] = []
    for kind in reversed(type(owner).__mro__):
        for attribute, method in vars(kind).items():
            marked = getattr(method, "action", None)
            if marked is None or not callable(method):
                continue
            name, help, keys, scope, menu, available = marked
            made = Action(name, help, getattr(owner, attribute), keys, scope, menu)
            if available:
                made = replace(made, available=_asker(owner, available))
            found.append(made)
    return found


def _asker(owner: object, attribute: str) -> Callable[[], bool]:
    def ask() -> bool:
        value = getattr(owner, attribute)
        return bool(value() if callable(value) else value)

    return ask


class ActionTable:
    """Actions in the order in which they were registered."""

    def __init__(self) -> None:
        self._actions: dict[str, Action] = {}
        self._changed: list[Callable[[Action], None]] = []

    def add(self, action: Action) -> Action:
        """Register an action; two of one name, or one key twice in a scope, are mistakes in the program."""
        if action.name in self._actions:
            raise ValueError(f"two actions are named {action.name!r}")
        for other in self._actions.values():
            shared = set(other.keys) & set(action.keys)
            if shared and EVERYWHERE in (other.scope, action.scope):
                raise ValueError(f"{action.name!r} and {other.name!r} share {shared}")
            if shared and other.scope == action.scope:
                raise ValueError(f"{action.name!r} and {other.name!r} share {shared}")
        self._actions[action.name] = action
        for call in self._changed:
            call(action)
        return action

    def add_all(self, owner: object) -> None:
        """Register everything that an object's methods were marked as."""
        for found in actions_of(owner):
            self.add(found)

    def whenever_added(self, call: Callable[[Action], None]) -> None:
        """Call for every action, those there already and those to come."""
        for action in self._actions.values():
            call(action)
        self._changed.append(call)

    def __getitem__(self, name: str) -> Action:
        return self._actions[name]

    def __iter__(self) -> Iterator[Action]:
        return iter(self._actions.values())

    def run(self, name: str) -> None:
        """Run an action if it is available."""
        action = self._actions[name]
        if action.available():
            action.run()

    def menu(self, menu: str) -> list[Action]:
        """The actions of a menu."""
        return [action for action in self if action.menu == menu]

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
        "Made from the program's table of actions by `make keys`. Every action also stands in the command finder (Ctrl+K).",
        "",
    ]
    for scope in dict.fromkeys(action.scope for action in table):
        lines += [f"## {scope[:1].upper()}{scope[1:]}", "", "| Keys | Action | What it does |", "|---|---|---|"]
        for action in table:
            if action.scope == scope:
                keys = " or ".join(f"`{key}`" for key in action.keys) or "–"
                lines.append(f"| {keys} | {action.title} | {action.help} |")
        lines.append("")
    return "\n".join(lines)
