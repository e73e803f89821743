"""Every command of the window with its keys, in one table."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Command:
    """A command's name in code, what it is called, where it belongs, and its keys."""

    name: str
    label: str
    group: str
    keys: tuple[str, ...]


COMMANDS = (
    Command("intake", "Intake", "Steps", ("Ctrl+1",)),
    Command("proof", "Proof", "Steps", ("Ctrl+2",)),
    Command("translation", "Translation", "Steps", ("Ctrl+3",)),
    Command("export", "Export", "Steps", ("Ctrl+4",)),
    Command("play", "Play or stop", "Listening", ("Ctrl+Space", "F5")),
    Command("back", "Back 2 seconds", "Listening", ("Alt+Left",)),
    Command("forward", "Forward 2 seconds", "Listening", ("Alt+Right",)),
    Command("previous_cue", "Previous cue", "Listening", ("Alt+Up",)),
    Command("next_cue", "Next cue", "Listening", ("Alt+Down",)),
    Command("play_word", "Play from the word at the caret", "Listening", ("Ctrl+Return",)),
    Command("slower", "Slower", "Listening", ("Alt+-",)),
    Command("faster", "Faster", "Listening", ("Alt+=", "Alt++")),
    Command("clean_sound", "Listen with less hum and hiss, or not", "Listening", ("Alt+C",)),
    Command("next_doubt", "Next doubt", "Doubts", ("Ctrl+J",)),
    Command("previous_doubt", "Previous doubt", "Doubts", ("Ctrl+Shift+J",)),
    Command("hear_doubt", "Hear the word again", "Doubts", ("Alt+H",)),
    Command("keep_doubt", "Keep as heard", "Doubts", ("Alt+K",)),
    Command("hear_again", "Hear the passage again, another way", "Second hearing", ("Alt+A",)),
    Command("take_heard", "Take what the second hearing has", "Second hearing", ("Alt+T",)),
    Command("leave_heard", "Leave the text as it is", "Second hearing", ("Alt+L",)),
    Command("join", "Join with the next cue", "Text", ("Ctrl+M",)),
    Command("delete_cue", "Take the cue out", "Text", ("Ctrl+Shift+Delete",)),
    Command("proofed", "Proofed up to here", "Text", ("Ctrl+Shift+Return",)),
    Command("paragraph", "Open or close a paragraph here", "Text", ("Alt+P",)),
    Command("speaker", "Name the speaker of this turn", "Text", ("Alt+N",)),
    Command("undo", "Undo", "Text", ("Ctrl+Z",)),
    Command("redo", "Redo", "Text", ("Ctrl+Shift+Z", "Ctrl+Y")),
    Command("larger", "Larger text", "Window", ("Ctrl+=", "Ctrl++")),
    Command("smaller", "Smaller text", "Window", ("Ctrl+-",)),
    Command("keys", "Keys", "Window", ("F1",)),
    Command("open", "Open a job", "Window", ("Ctrl+O",)),
    Command("new", "New job", "Window", ("Ctrl+N",)),
    Command("quit", "Quit", "Window", ("Ctrl+Q",)),
)

BY_NAME = {command.name: command for command in COMMANDS}


def key_of(name: str) -> str:
    """A command's first key, for hints."""
    return BY_NAME[name].keys[0].replace("Return", "Enter")
