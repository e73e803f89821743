"""Every command of the window with its keys, in one table."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Command:
    """A command's name in code, what it is called, where it belongs, and its keys.

    It acts only while one of the steps in ``on`` is open: where what it does is seen. Those that
    may be given everywhere change no text, or go to where it is seen before they do.
    """

    name: str
    label: str
    group: str
    keys: tuple[str, ...]
    on: tuple[str, ...] = ("proof",)


EVERYWHERE = ("intake", "proof", "translation", "export")
SHEETS = ("proof", "translation")


COMMANDS = (
    Command("intake", "Intake", "Steps", ("Ctrl+1",), EVERYWHERE),
    Command("proof", "Proof", "Steps", ("Ctrl+2",), EVERYWHERE),
    Command("translation", "Translation", "Steps", ("Ctrl+3",), EVERYWHERE),
    Command("export", "Export", "Steps", ("Ctrl+4",), EVERYWHERE),
    Command("play", "Play or stop", "Listening", ("Ctrl+Space", "F5"), EVERYWHERE),
    Command("back", "Back 2 seconds", "Listening", ("Alt+Left",), EVERYWHERE),
    Command("forward", "Forward 2 seconds", "Listening", ("Alt+Right",), EVERYWHERE),
    Command("previous_cue", "Previous cue", "Listening", ("Alt+Up",)),
    Command("next_cue", "Next cue", "Listening", ("Alt+Down",)),
    Command("previous_word", "Previous word", "Listening", ("Alt+,",)),
    Command("next_word", "Next word", "Listening", ("Alt+.",)),
    Command(
        "play_word", "Play from the word at the caret", "Listening", ("Ctrl+Return",), EVERYWHERE
    ),
    Command("catch", "Stop at the word that is heard", "Listening", ("F4",), EVERYWHERE),
    Command("replay_cue", "The cue at the caret again", "Listening", ("F6",)),
    Command("loop", "The selected cues over and over", "Listening", ("F7",)),
    Command("stop_at_cues", "Stop at the end of every cue, or not", "Listening", ("Alt+E",)),
    Command("follow", "Let the sheet follow the sound, or not", "Listening", ("Alt+F",)),
    Command("slower", "Slower", "Listening", ("Alt+-",), EVERYWHERE),
    Command("faster", "Faster", "Listening", ("Alt+=", "Alt++"), EVERYWHERE),
    Command("quieter", "Quieter", "Listening", ("Ctrl+Alt+-",), EVERYWHERE),
    Command("louder", "Louder", "Listening", ("Ctrl+Alt+=", "Ctrl+Alt++"), EVERYWHERE),
    Command(
        "clean_sound", "Listen with less hum and hiss, or not", "Listening", ("Alt+C",), EVERYWHERE
    ),
    Command("next_doubt", "Next doubt", "Doubts", ("Ctrl+J",), EVERYWHERE),
    Command("previous_doubt", "Previous doubt", "Doubts", ("Ctrl+Shift+J",), EVERYWHERE),
    Command("hear_doubt", "Hear the word again", "Doubts", ("Alt+H",)),
    Command("keep_doubt", "Keep as heard", "Doubts", ("Alt+K",)),
    Command("keep_spelling", "Keep all that were heard like this one", "Doubts", ("Alt+Shift+K",)),
    Command("fix_elsewhere", "The last correction in other places too", "Doubts", ("Alt+O",)),
    Command("fix_glossary", "The last correction into the glossary", "Doubts", ("Alt+Shift+O",)),
    Command(
        "hear_again",
        "Hear the passage again, another way",
        "Second hearing",
        ("Alt+A",),
        EVERYWHERE,
    ),
    Command("take_heard", "Take what the second hearing has", "Second hearing", ("Alt+T",)),
    Command("leave_heard", "Leave the text as it is", "Second hearing", ("Alt+L",)),
    Command("layout", "Cues or paragraphs", "Text", ("Alt+V",), EVERYWHERE),
    Command("line", "Begin a line of the caption here, or not", "Text", ("Shift+Return",)),
    Command("join", "Join with the next cue", "Text", ("Ctrl+M",)),
    Command("delete_cue", "Take the cue out", "Text", ("Ctrl+Shift+Delete",)),
    Command("word_forward", "Last word to the next cue", "Text", ("Alt+W",)),
    Command("word_back", "First word to the cue before", "Text", ("Alt+Q",)),
    Command("mark", "A mark such as [inaudible 00:12:03]", "Text", ("Ctrl+E",), EVERYWHERE),
    Command("proofed", "Proofed up to here", "Text", ("Ctrl+Shift+Return",)),
    Command("paragraph", "Open or close a paragraph here", "Text", ("Alt+P",)),
    Command("speaker", "Name the speaker of this turn", "Text", ("Alt+N",), EVERYWHERE),
    Command("split_turn", "Another person speaks from here on", "Text", ("Alt+S",)),
    Command("undo", "Undo", "Text", ("Ctrl+Z",), EVERYWHERE),
    Command("redo", "Redo", "Text", ("Ctrl+Shift+Z", "Ctrl+Y"), EVERYWHERE),
    Command("compare", "What was changed since the draft", "Text", ("Alt+D",), EVERYWHERE),
    Command("restore", "Back to the draft in the selection", "Text", ("Alt+Shift+D",)),
    Command(
        "write_out", "Write the text out to another editor", "Text", ("Ctrl+Shift+W",), EVERYWHERE
    ),
    Command("take_back", "Take it back from there", "Text", ("Ctrl+Shift+B",), EVERYWHERE),
    Command("anything", "Find anything", "Finding", ("Ctrl+K",), EVERYWHERE),
    Command("find", "Find", "Finding", ("Ctrl+F",), EVERYWHERE),
    Command("replace", "Find and replace", "Finding", ("Ctrl+H",), EVERYWHERE),
    Command("find_next", "Next place", "Finding", ("F3",), EVERYWHERE),
    Command("find_previous", "Previous place", "Finding", ("Shift+F3",), EVERYWHERE),
    Command("go_to_time", "Go to a time", "Finding", ("Ctrl+G",), EVERYWHERE),
    Command("start_earlier", "Start earlier, a frame or 10 ms", "Times", ("Alt+Shift+Left",)),
    Command("start_later", "Start later", "Times", ("Alt+Shift+Right",)),
    Command("end_earlier", "End earlier", "Times", ("Alt+Shift+Up",)),
    Command("end_later", "End later", "Times", ("Alt+Shift+Down",)),
    Command("start_here", "Start at the playhead", "Times", ("F8",)),
    Command("end_here", "End at the playhead", "Times", ("F9",)),
    Command("loupe", "The loupe: edges and words on the sound", "Times", ("Alt+X",)),
    Command("times", "Exact times, move or stretch", "Times", ("Ctrl+T",), EVERYWHERE),
    Command(
        "close_gaps", "Close gaps in the selected cues, or in all", "Times", ("Alt+G",), EVERYWHERE
    ),
    Command("empty_cue", "An empty cue at the playhead", "Times", ("Ctrl+I",)),
    Command(
        "shape",
        "Shape captions: lay out, join, split, extend, snap",
        "Checks",
        ("Alt+U",),
        EVERYWHERE,
    ),
    Command("checks", "All checks", "Checks", ("Alt+R",), EVERYWHERE),
    Command("next_check", "Next check", "Checks", ("Alt+J",), EVERYWHERE),
    Command("previous_check", "Previous check", "Checks", ("Alt+Shift+J",), EVERYWHERE),
    Command("fix_check", "Mend the check at the caret", "Checks", ("Alt+M",)),
    Command("leave_check", "Let the check at the caret be", "Checks", ("Alt+Shift+M",)),
    Command("house_style", "House style", "Checks", ("Alt+Y",), EVERYWHERE),
    Command(
        "dress", "Marks and capitals for a text that has none", "Checks", ("Alt+I",), EVERYWHERE
    ),
    Command("place", "Caption at the top of the picture, or not", "Text", ("Alt+B",)),
    Command("italics", "Italics for the selection or the cue, or not", "Text", ("Ctrl+Shift+I",)),
    Command("larger", "Larger text", "Window", ("Ctrl+=", "Ctrl++"), SHEETS),
    Command("smaller", "Smaller text", "Window", ("Ctrl+-",), SHEETS),
    Command("dark", "Dark or light", "Window", ("Ctrl+Shift+L",), EVERYWHERE),
    Command("keys", "Keys", "Window", ("F1",), EVERYWHERE),
    Command("pedal", "Foot pedal", "Window", (), EVERYWHERE),
    Command("guide", "Guide", "Window", ("Shift+F1",), EVERYWHERE),
    Command("news", "What is new", "Window", (), EVERYWHERE),
    Command("about", "About Tamarind", "Window", (), EVERYWHERE),
    Command("open", "Open a job", "Window", ("Ctrl+O",), EVERYWHERE),
    Command("new", "New job", "Window", ("Ctrl+N",), EVERYWHERE),
    Command("rename_job", "Rename the job", "Window", (), EVERYWHERE),
    Command("job_folder", "Where the job lies", "Window", (), EVERYWHERE),
    Command("earlier", "Earlier states of the job", "Window", (), EVERYWHERE),
    Command("other_window", "A job in another window", "Window", ("Ctrl+Shift+O",), EVERYWHERE),
    Command("save_copy", "Save a copy of the job", "Window", ("Ctrl+Shift+S",), EVERYWHERE),
    Command("room", "Decoded sound on this computer", "Window", (), EVERYWHERE),
    Command("quit", "Quit", "Window", ("Ctrl+Q",), EVERYWHERE),
)

BY_NAME = {command.name: command for command in COMMANDS}

SPEAKER_KEYS = tuple(f"Alt+{number}" for number in range(10))
"""These give the turn to a speaker by number, 0 to nobody."""
