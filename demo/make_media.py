"""Make the demo's five recordings from their scripts, with Debian's ``flite``, and the Italian one
with ``festival`` and ``festvox-italp16k``.

    .venv/bin/python demo/make_media.py

The speech is synthesised, the people and places are made up. Only needed when a script changes.
"""

from __future__ import annotations

import os
import subprocess
import tempfile
import wave
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import numpy as np

HERE = Path(__file__).parent
RATE = 16_000
PAUSE_BETWEEN_TURNS = 0.65
PICTURE = (960, 540)
VOICES = {
    "Interviewer": ("slt", 1.0),
    "Warden": ("rms", 1.08),
    "Lecturer": ("rms", 1.0),
    "Surveyor": ("awb", 1.0),
    "Chair": ("slt", 1.02),
    "Pat": ("awb", 1.0),
    "Robin": ("rms", 1.0),
}
ITALIAN = {"Teresa": "voice_lp_diphone"}
"""Speakers whom Festival speaks for, by its voices."""


@dataclass
class Turn:
    """One line of a script; ``slide`` is the title on the picture meanwhile."""

    speaker: str
    text: str
    slide: str


def read_script(name: str) -> list[Turn]:
    """The turns of a script; lines with "#" set the slide."""
    turns: list[Turn] = []
    slide = ""
    for line in (HERE / "scripts" / f"{name}.txt").read_text().splitlines():
        if line.startswith("#"):
            slide = line.lstrip("# ")
        elif line.strip():
            speaker, text = line.split(":", 1)
            turns.append(Turn(speaker, text.strip(), slide))
    return turns


def speak(turn: Turn) -> np.ndarray:
    """A turn as float32 at 16 kHz."""
    if turn.speaker in ITALIAN:
        return _spoken_by_festival(turn.text, ITALIAN[turn.speaker])
    voice, stretch = VOICES[turn.speaker]
    with tempfile.NamedTemporaryFile(suffix=".wav") as file:
        subprocess.run(
            ["flite", "-voice", voice, "--setf", f"duration_stretch={stretch}",
             "-t", turn.text, "-o", file.name],
            check=True,
        )  # fmt: skip
        with wave.open(file.name) as sound:
            assert sound.getframerate() == RATE, sound.getframerate()
            data = np.frombuffer(sound.readframes(sound.getnframes()), np.int16)
    return data.astype(np.float32) / 32768


def _spoken_by_festival(text: str, voice: str) -> np.ndarray:
    with tempfile.NamedTemporaryFile(suffix=".wav") as file:
        said = text.replace('"', "")
        program = f'({voice}) (set! said (Utterance Text "{said}")) (utt.synth said)'
        program += f' (utt.save.wave said "{file.name}" \'riff)'
        subprocess.run(["festival", "--pipe"], input=program.encode("latin-1"), check=True)
        with wave.open(file.name) as sound:
            assert sound.getframerate() == RATE, sound.getframerate()
            data = np.frombuffer(sound.readframes(sound.getnframes()), np.int16)
    return data.astype(np.float32) / 32768


def record(name: str, seed: int) -> tuple[np.ndarray, list[tuple[float, str]]]:
    """All turns with pauses between; and when each slide comes up, in seconds."""
    rng = np.random.default_rng(seed)
    parts = [np.zeros(RATE // 2, np.float32)]
    slides: list[tuple[float, str]] = []
    for turn in read_script(name):
        at = sum(map(len, parts)) / RATE
        if not slides or slides[-1][1] != turn.slide:
            slides.append((at if slides else 0.0, turn.slide))
        pause = PAUSE_BETWEEN_TURNS + rng.uniform(-0.2, 0.5)
        parts += [speak(turn), np.zeros(int(pause * RATE), np.float32)]
    sound = np.concatenate(parts)
    return 0.7 * sound / np.abs(sound).max(), slides


def wind(length: int, seed: int) -> np.ndarray:
    """Low, gusty noise, like a microphone outdoors."""
    rng = np.random.default_rng(seed)
    spectrum = np.fft.rfft(rng.standard_normal(length))
    frequency = np.fft.rfftfreq(length, 1 / RATE)
    noise = np.fft.irfft(spectrum / (1 + (frequency / 140) ** 1.6), length)
    gusts = np.interp(
        np.arange(length),
        np.arange(0, length + RATE, RATE),
        rng.uniform(0.25, 1, length // RATE + 2),
    )
    return (0.035 * gusts * noise / np.abs(noise).std()).astype(np.float32)


def draw_slide(title: str) -> np.ndarray:
    """A slide as RGB (height, width, 3): its title and a drawn section through a bog."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtCore import QPointF, QRectF, Qt
    from PySide6.QtGui import QColor, QFont, QGuiApplication, QImage, QPainter, QPen, QPolygonF

    from tamarind.desktop.theme.fonts import load_fonts

    app = QGuiApplication.instance() or QGuiApplication([])
    assert app is not None
    load_fonts()
    width, height = PICTURE
    image = QImage(width, height, QImage.Format.Format_RGB888)
    image.fill(QColor("#E9EFE6"))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(Qt.PenStyle.NoPen)
    depth = 0.30 if title in ("Why depth matters", "Measuring it") else 0.08
    surface = [QPointF(x, 300 + 14 * np.sin(x / 90)) for x in range(0, width + 20, 20)]
    bottom = [QPointF(width, height), QPointF(0, height)]
    painter.setBrush(QColor("#6B4A33"))
    painter.drawPolygon(QPolygonF(surface + bottom))
    water = [QPointF(p.x(), p.y() + 240 * depth * (1 + 0.8 * np.cos(p.x() / 153))) for p in surface]
    painter.setBrush(QColor(60, 110, 140, 150))
    painter.drawPolygon(QPolygonF(water + bottom))
    painter.setBrush(QColor("#7D7F86"))
    painter.drawRect(QRectF(0, height - 50, width, 50))
    if title == "Measuring it":
        painter.setBrush(QColor("#F4F1E8"))
        painter.drawRect(QRectF(520, 235, 22, height - 285))
    painter.setPen(QPen(QColor("#3C7A57"), 3))
    for x in range(15, width, 24):
        y = 300 + 14 * np.sin(x / 90)
        painter.drawLine(QPointF(x, y), QPointF(x - 5, y - 16))
        painter.drawLine(QPointF(x, y), QPointF(x + 6, y - 13))
    painter.setPen(QColor("#2B2320"))
    font = QFont("Vollkorn")
    font.setPixelSize(52)
    painter.setFont(font)
    painter.drawText(QRectF(60, 60, width - 120, 120), title)
    painter.end()
    rows = np.frombuffer(image.constBits(), np.uint8).reshape(height, image.bytesPerLine())
    return rows[:, : width * 3].reshape(height, width, 3).copy()


def write(
    path: Path,
    sound: np.ndarray,
    codec: str,
    bit_rate: int | None,
    slides: list[tuple[float, str]] | None = None,
) -> None:
    """Encode sound, with slides as a picture if there are any."""
    with av.open(str(path), "w") as out:
        track = out.add_stream(codec, rate=RATE, layout="mono")
        if bit_rate:
            track.bit_rate = bit_rate
        if slides:
            _add_picture(out, slides, len(sound) / RATE)
        resampler = av.AudioResampler(track.codec_context.format or "fltp", "mono", RATE)
        frame = av.AudioFrame.from_ndarray(sound[None].astype(np.float32), "flt", "mono")
        frame.sample_rate = RATE
        frame.pts = 0
        size = track.codec_context.frame_size or 1024
        fifo = av.AudioFifo()
        for piece in resampler.resample(frame):
            fifo.write(piece)
        while fifo.samples:
            for packet in track.encode(fifo.read(size, partial=True)):
                out.mux(packet)
        out.mux(track.encode(None))


def _add_picture(
    out: av.container.OutputContainer, slides: list[tuple[float, str]], end: float
) -> None:
    rate = 5
    video = out.add_stream("libx264", rate=rate, options={"crf": "30", "preset": "slow", "g": "50"})
    video.width, video.height = PICTURE
    video.pix_fmt = "yuv420p"
    drawn = {title: draw_slide(title) for _, title in slides}
    for number in range(int(end * rate)):
        title = [name for at, name in slides if at <= number / rate][-1]
        frame = av.VideoFrame.from_ndarray(drawn[title], "rgb24")
        frame.pts = number
        frame.time_base = Fraction(1, rate)
        out.mux(video.encode(frame))
    out.mux(video.encode(None))


def main() -> None:
    """Write all five recordings into demo/media."""
    media = HERE / "media"
    media.mkdir(exist_ok=True)
    neighbour, _ = record("neighbour-in-italian", 6)
    write(media / "Neighbour, in Italian.ogg", neighbour, "libopus", 32_000)
    interview, _ = record("warden-interview", 1)
    write(media / "Warden interview.m4a", interview, "aac", 48_000)
    lecture, slides = record("water-table-lecture", 2)
    write(media / "Water table lecture.mp4", lecture, "aac", 48_000, slides)
    memo, _ = record("north-drain-memo", 3)
    write(media / "Site memo, north drain.ogg", memo + wind(len(memo), 4), "libopus", 32_000)
    table, _ = record("volunteers-round-table", 5)
    write(media / "Volunteers round table.wav", table, "pcm_mulaw", None)
    for path in sorted(media.iterdir()):
        print(f"{path.name}: {path.stat().st_size / 1000:.0f} kB")


if __name__ == "__main__":
    main()
