"""Make published pages: which files belong to a recording and its texts, and their contents."""

from __future__ import annotations

import base64
import shutil
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from urllib.parse import quote

from tamarind.audio.media import MediaError, codec_of, open_media, picture_of
from tamarind.audio.soundfile import write_sound
from tamarind.audio.splice import Cutting
from tamarind.formats import documents
from tamarind.formats.data.chapters import chapters_of
from tamarind.formats.facts import facts_of, in_words
from tamarind.formats.filenames import lawful
from tamarind.formats.format import Origin
from tamarind.formats.playerpage.content import PageContent, PageText
from tamarind.formats.playerpage.markup import write as markup
from tamarind.formats.playerpage.words import page_words
from tamarind.formats.reading.paragraphs import paragraphs
from tamarind.language.housestyle import HouseStyle
from tamarind.language.publishing import Ways, published
from tamarind.picture.containers import whole_or_nothing
from tamarind.picture.splice import splice_video
from tamarind.system.files import write_whole
from tamarind.transcript.descriptions import Description, interleaved
from tamarind.transcript.languages import own_name_of
from tamarind.transcript.model import Transcript

PAGE = "index.html"
PLAYED = {
    ("mp4", "h264", "aac"): "video/mp4", ("mp4", "h264", "mp3"): "video/mp4",
    ("webm", "vp8", "vorbis"): "video/webm", ("webm", "vp9", "opus"): "video/webm",
    ("webm", "vp8", "opus"): "video/webm",
    ("mp4", "", "aac"): "audio/mp4", ("mp3", "", "mp3"): "audio/mpeg",
    ("ogg", "", "vorbis"): "audio/ogg", ("ogg", "", "opus"): "audio/ogg",
    ("webm", "", "opus"): "audio/webm",
}  # fmt: skip
"""What every browser plays: container, picture and sound; all else is written anew. Ogg is not
played by all, but those that do not can be helped by nobody without losing what it saves."""

LARGEST_SINGLE = 200_000_000
"""Bytes of sound within a page; more of it would not be opened by a telephone."""


@dataclass(frozen=True, slots=True)
class PageOrder:
    """A page for one recording. ``texts`` are its languages, the recording's first;
    ``from_captions`` says that they have no paragraphs; ``descriptions`` are in the first language.
    A ``single`` page contains its sound."""

    media: Path
    folder: Path
    title: str
    texts: Sequence[Transcript]
    style: HouseStyle
    single: bool = False
    from_captions: bool = False
    client: str = ""
    date: str = ""
    descriptions: Sequence[Description] = ()

    @property
    def page(self) -> Path:
        """The path of the page."""
        name = f"{lawful(self.title)}.html" if self.single else PAGE
        return self.folder / name

    @property
    def targets(self) -> list[Path]:
        """The files that will be written."""
        if self.single:
            return [self.page]
        captions = [self.folder / _caption_name(text) for text in self.texts]
        return [self.page, self.folder / self._media_name, *captions]

    @property
    def _media_name(self) -> str:
        return f"media{self._suffix}"

    @property
    def _suffix(self) -> str:
        kind, pictured, _ = _kind_of(self.media)
        if kind:
            return self.media.suffix.lower()
        return ".mp4" if pictured else ".m4a"

    def fill(self, told: Callable[[float], None] = lambda _share: None) -> None:
        """Write the files. Raises MediaError with a sentence, and OSError."""
        kind, pictured, duration = _kind_of(self.media)
        if self.single and pictured:
            raise MediaError("A page with a picture is a folder: only sound fits within a page.")
        self.folder.mkdir(parents=True, exist_ok=True)
        name = self._media_name
        beside = self.folder / (f".{self.page.name}.sound" if self.single else name)
        if beside.exists() and beside.samefile(self.media):
            raise MediaError("That is the recording itself: write to another folder.")
        if self.single:
            beside = beside.with_suffix(self._suffix)
        try:
            self._put_media(beside, bool(kind), pictured, lambda share: told(share * 0.95))
            address = quote(name)
            media_type = kind or ("video/mp4" if pictured else "audio/mp4")
            if self.single:
                if beside.stat().st_size > LARGEST_SINGLE:
                    raise MediaError("The sound is too long for a single page: choose a folder.")
                packed = base64.b64encode(beside.read_bytes()).decode()
                address = f"data:{media_type};base64,{packed}"
        finally:
            if self.single:
                beside.unlink(missing_ok=True)
        content, captions = self._content(address, media_type, pictured, duration)
        for file, text in captions.items():
            write_whole(self.folder / file, text.encode())
        write_whole(self.page, markup(content).encode())
        told(1.0)

    def _put_media(
        self, target: Path, as_it_is: bool, pictured: bool, told: Callable[[float], None]
    ) -> None:
        with whole_or_nothing(target) as beside:
            if as_it_is:
                shutil.copyfile(self.media, beside)
            elif pictured:
                splice_video(beside, target, [self._whole()], told=told)
            else:
                write_sound(beside, target, [self._whole()], told)

    def _whole(self) -> Cutting:
        return Cutting(self.media, ((0, _length(self.media)),))

    def _content(
        self, address: str, media_type: str, pictured: bool, duration: int
    ) -> tuple[PageContent, dict[str, str]]:
        """Return the contents of the page, and the caption files beside it."""
        texts: list[PageText] = []
        files: dict[str, str] = {}
        named: list[tuple[str, str]] = []
        chapters: list[Transcript] = []
        for text in self.texts:
            whole = interleaved(text, self.descriptions) if text is self.texts[0] else text
            read = published(whole, "html", self.style, Ways(from_captions=self.from_captions))
            found = paragraphs(read, self.style.transcript)
            captions = documents.write(
                "vtt", published(text, "vtt", self.style), Origin(self.title, duration)
            ).decode()
            name = own_name_of(text.language)
            texts.append(PageText(text.language, name, read, found, captions))
            if not self.single:
                file = _caption_name(text)
                files[file] = captions
                named.append((name, quote(file)))
            if any(cue.heading for cue in text.cues):
                chapters.append(text)
        words = page_words(texts[0].language)["words"]
        counted = in_words(facts_of(texts[0].text, duration), words)
        facts = " · ".join(filter(None, (self.client, self.date, counted)))
        marks = chapters_of(chapters[0], self.title, duration) if chapters else ()
        content = PageContent(
            self.title,
            address,
            media_type,
            has_picture=pictured,
            texts=texts,
            chapters=marks,
            facts=facts,
            captions=named,
            descriptions=self.descriptions,
        )
        return content, files


def _caption_name(text: Transcript) -> str:
    return f"captions.{text.language or 'und'}.vtt"


def _kind_of(media: Path) -> tuple[str, bool, int]:
    """Return the kind of a file, found once as long as the file is the same."""
    try:
        about = media.stat()
    except OSError:
        return _looked_at(media, (0, 0))
    return _looked_at(media, (about.st_mtime_ns, about.st_size))


@lru_cache(100)
def _looked_at(media: Path, _state: tuple[int, int]) -> tuple[str, bool, int]:
    """Return a recording's MIME type, "" if not all browsers play it; whether it has a picture; and
    its length (ms). Raises MediaError."""
    with open_media(media) as read:
        picture = picture_of(read)
        if not read.streams.audio:
            raise MediaError("The file has no sound track: there is nothing to transcribe.")
        length = round((read.duration or 0) / 1000)
        kinds = set(read.format.name.split(","))
        container = next((one for one in ("mp4", "webm", "mp3", "ogg") if one in kinds), "")
        if "webm" in kinds and media.suffix.lower() != ".webm":
            container = ""
        codec = codec_of(picture) if picture is not None else ""
        plain = picture is None or picture.codec_context.pix_fmt == "yuv420p"
        sound = codec_of(read.streams.audio[0])
        kind = PLAYED.get((container, codec, sound), "") if plain else ""
        return kind, picture is not None, length


def _length(media: Path) -> int:
    return _kind_of(media)[2]
