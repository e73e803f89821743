"""Declare the commands of the window, each once, beside the function that does it.

    @command("Join with the next cue", "Text", "Ctrl+M", needs=TEXT)
    def join_next(self) -> None: ...

Menu, keys, the dialog of keys, find-anything, tool tips, the table in the README and the printed
sheet are made from what is declared; ``commandbar`` makes the window's actions of it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any, TypeVar

MENUS = {
    "File": ("File",),
    "Edit": ("Edit",),
    "View": ("View", "Pages", "Picture"),
    "Play": ("Listening",),
    "Text": (
        "Text",
        "Uncertain words",
        "Speakers",
        "Paragraphs",
        "Times",
        "Transcribe again",
        "Draft",
    ),
    "Tools": ("Tools", "Checks", "Excerpts", "Translation"),
    "Help": ("Help",),
}
"""The menus, with the groups of commands in each; all but the first are menus within it."""

GROUPS = tuple(group for groups in MENUS.values() for group in groups)

OTHER_KEYS = (
    ("Split the cue or the paragraph at the caret", "Enter"),
    ("Join with the cue before, at the start of a cue", "Backspace"),
    ("In Translation: approve the translation and go to the next", "Enter"),
    ("Take an alternative; accept the word", "1 … 9; 0"),
    ("Play from a word", "Ctrl+click"),
    ("In the loupe: select an edge; move it; go to another cue", "← →; Shift+← Shift+→; ↑ ↓"),
    (
        "In Excerpts: cut or restore the selected words; split; move",
        "Delete; Enter; Ctrl+↑ Ctrl+↓",
    ),
    (
        "In Intake: next recording; move it in the queue; select all; none",
        "↑ ↓; Shift+↑ Shift+↓; Ctrl+A; Esc",
    ),
    ("In Intake: add the copied files; remove from the job", "Ctrl+V; Delete"),
)
"""Keys that belong to what has the focus, and cannot be changed."""


@dataclass(frozen=True, slots=True)
class Where:
    """What the window shows when a command is given."""

    page: str
    has_recording: bool = False
    has_text: bool = False
    """The shown recording has cues."""
    at_doubt: bool = False
    """The word at the caret is a doubt."""
    has_differences: bool = False
    """A second hearing is open."""
    has_track: bool = False
    """The Translation page shows a language."""
    has_excerpts: bool = False
    """The job has excerpts."""


@dataclass(frozen=True, slots=True)
class Need:
    """A condition under which a command may act, and what to say where it does not hold."""

    holds: Callable[[Where], bool]
    sentence: str = ""


NOTHING = Need(lambda where: True)
PROOF = Need(lambda where: where.page == "proof", "This works on the Proof page.")
SHEET = Need(
    lambda where: where.page in ("proof", "translation"),
    "This works on the Proof and Translation pages.",
)
RECORDING = Need(
    lambda where: where.page == "proof" and where.has_recording,
    "This needs a recording on the Proof page.",
)
TEXT = Need(
    lambda where: where.page == "proof" and where.has_text,
    "This needs a transcript on the Proof page.",
)
DOUBT = Need(
    lambda where: where.page == "proof" and where.at_doubt,
    "There is no uncertain word at the caret.",
)
TRACK = Need(
    lambda where: where.page == "translation" and where.has_track,
    "This needs a translation on the Translation page.",
)
EXCERPT = Need(
    lambda where: where.has_excerpts, "There are no excerpts yet. Keep some on the Proof page."
)
DIFFERENCE = Need(
    lambda where: where.page == "proof" and where.has_differences,
    "There are no differences to review.",
)


@dataclass(frozen=True, slots=True)
class Command:
    """The declaration of a command.

    ``arguments`` are given to its function. ``opens`` is a page that it goes to first, so that what
    it does is seen. A ``fixed`` command keeps
    the keys that it came with.
    """

    name: str
    label: str
    group: str
    keys: tuple[str, ...]
    function: str
    arguments: tuple[Any, ...] = ()
    needs: Need = NOTHING
    opens: str | None = None
    fixed: bool = False
    module: str = ""
    first: bool = False
    """Listed before the others of its group."""

    last: bool = False
    """At the very end of its menu."""

    also: str = ""
    """Other words that people look for it by."""

    together: tuple[str, str] | None = None
    """How several fixed ones are listed in one line: what they do, and their keys."""


_Function = TypeVar("_Function", bound=Callable[..., Any])
_declared: dict[str, list[Command]] = {}
"""By the function's own name within its module, in the order of their declaration."""

_by_name: dict[str, Command] = {}

_DECLARED = "declared commands"
_DONE_FOR = "commands that it does on its page"


@dataclass(frozen=True, slots=True)
class OnItsPage:
    """What a command does where its own condition does not hold, but ``needs`` does."""

    name: str
    function: str
    arguments: tuple[Any, ...]
    needs: Need


def command(
    label: str,
    group: str,
    *keys: str,
    name: str = "",
    arguments: tuple[Any, ...] = (),
    needs: Need = NOTHING,
    opens: str | None = None,
    first: bool = False,
    last: bool = False,
    also: str = "",
    together: tuple[str, str] | None = None,
) -> Callable[[_Function], _Function]:
    """Declare that a method is a command, or several with other arguments each.

    Its name is the method's, or ``name``. See ``Command``.
    """

    def declare(function: _Function) -> _Function:
        made = Command(
            name or function.__name__,
            label,
            group,
            keys=keys,
            function=function.__name__,
            arguments=arguments,
            needs=needs,
            opens=opens,
            fixed=together is not None,
            module=function.__module__,
            first=first,
            last=last,
            also=also,
            together=together,
        )
        # Decorators are applied from below: the upper one comes first.
        of_function = _declared.setdefault(f"{function.__module__}.{function.__qualname__}", [])
        of_function.insert(0, made)
        _by_name[made.name] = made
        function.__dict__[_DECLARED] = of_function
        return function

    return declare


def same_command(name: str, *arguments: Any, needs: Need) -> Callable[[_Function], _Function]:
    """Declare that a method does what the command ``name`` does, where ``needs`` holds."""

    def declare(function: _Function) -> _Function:
        one = OnItsPage(name, function.__name__, arguments, needs)
        function.__dict__.setdefault(_DONE_FOR, []).append(one)
        return function

    return declare


def command_each(
    label: str,
    group: str,
    key: str,
    choices: Mapping[int, str],
    name: str,
    together: tuple[str, str],
    needs: Need = NOTHING,
) -> Callable[[_Function], _Function]:
    """Declare a command for each of some numbers, which its function gets as argument.

    "{}" in ``key`` and ``name`` becomes the number, in ``label`` what it stands for. Their keys
    are fixed; ``together`` is how they are listed.
    """

    def declare(function: _Function) -> _Function:
        for number, words in reversed(list(choices.items())):
            function = command(
                label.format(words),
                group,
                key.format(number),
                name=name.format(number),
                arguments=(number,),
                needs=needs,
                together=together,
            )(function)
        return function

    return declare


def all_commands() -> list[Command]:
    """Return all declared commands by groups, and in those by modules, independently of the order
    of imports. Modules that are not imported declare none."""
    modules = sorted(_declared, key=lambda function: _declared[function][0].module)
    made = [one for function in modules for one in _declared[function]]
    return sorted(made, key=lambda one: (GROUPS.index(one.group), one.last, not one.first))


def find(name: str) -> Command | None:
    """Return a command by its name."""
    return _by_name.get(name)


def listed(keys_of: Callable[[str], tuple[str, ...]]) -> dict[str, list[tuple[str, str, str]]]:
    """Return all keys by groups: what a command does, its keys, and its name.

    ``keys_of`` tells the keys of a command by its name. What cannot be changed comes last and has
    no name.
    """
    groups: dict[str, list[tuple[str, str, str]]] = {}
    together: dict[tuple[str, str], None] = {}
    for one in all_commands():
        if one.together is not None:
            together[one.together] = None
        else:
            keys = "  or  ".join(shown(key) for key in keys_of(one.name)) or "–"
            groups.setdefault(one.group, []).append((one.label, keys, one.name))
    groups["Always"] = [(text, keys, "") for text, keys in (*together, *OTHER_KEYS)]
    return groups


def shown(key: str) -> str:
    """Return a key as it is shown to people."""
    return key.replace("Return", "Enter")


def commands_of(owner: object) -> Iterator[tuple[Command, Callable[[], object]]]:
    """Yield (command, callable) for each method of an object that is a command, in the order of
    their definition."""
    for made in _declared_in(owner, _DECLARED):
        yield made, _bound(owner, made)


def done_elsewhere(owner: object) -> Iterator[tuple[OnItsPage, Callable[[], object]]]:
    """Yield (what, callable) for each method that does a command of another object on its page."""
    for made in _declared_in(owner, _DONE_FOR):
        yield made, _bound(owner, made)


def _declared_in(owner: object, what: str) -> Iterator[Any]:
    names = {name: None for kind in reversed(type(owner).__mro__) for name in vars(kind)}
    for name in names:
        function = getattr(type(owner), name, None)
        yield from getattr(function, "__dict__", {}).get(what, ())


def _bound(owner: object, made: Command | OnItsPage) -> Callable[[], object]:
    return lambda: getattr(owner, made.function)(*made.arguments)
