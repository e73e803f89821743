"""Play the shown recording, as recorded or cleaned; and the playback commands of every page."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Protocol, runtime_checkable

from PySide6.QtCore import QObject, QTimer

from tamarind.application.session import Session
from tamarind.audio.media import names_others
from tamarind.desktop.commands import command
from tamarind.desktop.player import SPEED_STEP, VOLUME_STEP, Player
from tamarind.desktop.proof.screen import ProofScreen
from tamarind.desktop.widgets.transport import Transport
from tamarind.job.recording import Recording

if TYPE_CHECKING:
    from tamarind.desktop.mediakeys import MediaKeys

SKIP_MS = 2_000
STRIP_FOLLOWS_MS = 600


@runtime_checkable
class Plays(Protocol):
    """A page that decides what is played."""

    def play_or_stop(self) -> None:
        """Play what is selected in the page, or stop."""


@runtime_checkable
class PlaysWords(Protocol):
    """A page with a caret of its own."""

    def play_from_caret(self) -> None:
        """Play from the caret."""


class Playback(QObject):
    """Follows the shown recording, and what becomes known of its sound."""

    def __init__(
        self,
        session: Session,
        player: Player,
        transport: Transport,
        proof: ProofScreen,
        page: Callable[[], object],
    ) -> None:
        """``page`` returns the open page."""
        super().__init__(transport)
        self._session, self._player, self._transport = session, player, transport
        self._proof, self._page = proof, page
        self._plays_clean = False
        self._media_keys: MediaKeys | None = None
        self._later = QTimer(self, singleShot=True, interval=STRIP_FOLLOWS_MS)
        self._later.timeout.connect(transport.refresh)
        self._later.timeout.connect(self.give_samples)
        transport.play_asked.connect(self.play)
        transport.skip_asked.connect(self.skip)
        transport.sound_asked.connect(self.load)
        session.shown_changed.connect(self.show_recording)
        session.on_demand.prepared.connect(self._prepared)
        for signal in (session.texts.changed, session.recordings.changed):
            signal.connect(self._shown_news)
        self.show_recording()

    def show_recording(self) -> None:
        """Load another recording."""
        self.load(keep_place=False)
        self._transport.refresh()

    def load(self, keep_place: bool = True) -> None:
        """Load the shown recording's sound: as recorded, or cleaned once that is ready."""
        recording = self._session.shown_recording()
        place = self._player.position
        cleaned, path = None, None
        if recording is not None and _is_playable(recording):
            if self._transport.wants_clean:
                cleaned = self._session.on_demand.cleaned_sound(recording.id)
            path = cleaned or recording.path
        self._player.load(path)
        self._plays_clean = cleaned is not None
        self.give_samples()
        if keep_place:
            self._player.seek(place)
        self._transport.show_sound(cleaned is not None)

    def give_samples(self) -> None:
        """Give the player the decoded sound, if there is one, so that short stretches are exact."""
        shown = self._session.shown
        if shown is not None:
            self._player.set_samples(self._session.sounds.samples(shown, self._plays_clean))

    def listen_clean(self) -> None:
        """Play what clean-up would make of the recording."""
        if not self._transport.wants_clean:
            self._transport.change_sound()
        self._player.play()

    def listen_to_media_keys(self) -> None:
        """Let the desktop's media keys and headset buttons play and stop."""
        from tamarind.desktop.mediakeys import MediaKeys

        self._media_keys = MediaKeys(self._player, self.play, self._title, self._show_window, self)

    def _title(self) -> str:
        recording = self._session.shown_recording()
        return recording.name if recording is not None else self._session.name

    def _show_window(self) -> None:
        self._transport.window().raise_()
        self._transport.window().activateWindow()

    def close(self) -> None:
        """Release the sound."""
        if self._media_keys is not None:
            self._media_keys.close()
        self._later.stop()
        self._player.stop()
        self._player.load(None)

    @command("Play or stop", "Listening", "Ctrl+Space", "F5", first=True)
    def play(self) -> None:
        """In Proof and Translation from the caret if it has moved since, else from the playhead;
        in Excerpts the chosen one."""
        page = self._page()
        if isinstance(page, Plays):
            page.play_or_stop()
        elif self._player.is_playing:
            self._player.stop()
        else:
            self._player.play()

    @command(
        "Go back 2 seconds", "Listening", "Alt+Left", name="back", arguments=(-SKIP_MS,), first=True
    )
    @command(
        "Go forward 2 seconds",
        "Listening",
        "Alt+Right",
        name="forward",
        arguments=(SKIP_MS,),
        first=True,
    )
    def skip(self, milliseconds: int) -> None:
        """Move the playhead."""
        self._player.seek(self._player.position + milliseconds)

    @command("Play from the word at the caret", "Listening", "Ctrl+Return", first=True)
    def play_word(self) -> None:
        """Play the word at the caret of the open page, or of Proof."""
        page = self._page()
        (page if isinstance(page, PlaysWords) else self._proof).play_from_caret()

    @command(
        "Play slower",
        "Listening",
        "Alt+-",
        name="slower",
        arguments=(-SPEED_STEP,),
        also="speed rate",
    )
    @command(
        "Play faster",
        "Listening",
        "Alt+=",
        "Alt++",
        name="faster",
        arguments=(SPEED_STEP,),
        also="speed rate",
    )
    def change_speed(self, step: float) -> None:
        """Play slower or faster."""
        self._player.set_speed(self._player.speed + step)

    @command(
        "Lower the volume", "Listening", "Ctrl+Alt+-", name="quieter", arguments=(-VOLUME_STEP,)
    )
    @command(
        "Raise the volume",
        "Listening",
        "Ctrl+Alt+=",
        "Ctrl+Alt++",
        name="louder",
        arguments=(VOLUME_STEP,),
    )
    def change_volume(self, step: float) -> None:
        """Play quieter or louder."""
        self._player.set_volume(self._player.volume + step)

    @command("Listen with noise reduction", "Listening", "Alt+C", also="denoise hiss hum filter")
    def clean_sound(self) -> None:
        """Switch between the recorded and the cleaned sound."""
        self._transport.change_sound()

    def _prepared(self, recording_id: int) -> None:
        if recording_id == self._session.shown and self._transport.wants_clean:
            self.load()

    def _shown_news(self, recording_id: int) -> None:
        # Not while somebody types: drawing a long recording costs more than a keystroke.
        if recording_id == self._session.shown:
            self._later.start()
            recording = self._session.recordings.get(recording_id)
            if not self._player.has_recording and _is_playable(recording):
                # What it is has only now become known.
                self.load(keep_place=False)


def _is_playable(recording: Recording) -> bool:
    """Whether a file may be given to the player, which would follow a list of addresses."""
    known = recording.info is not None and recording.path.is_file()
    return known and not names_others(recording.path)
