"""Make the demo job from the demo's recordings: one at every stage of the work.

    .venv/bin/python demo/make_job.py [--enrich]

Transcribes the recordings, then does what a person would have done: the memo is proofed, and half
of its translation into Portuguese; half the interview is proofed, the lecture and the neighbour's
story, which is Italian, are plain drafts, and the round-table has not been transcribed. The lecture
has headings, three passages are kept as excerpts, and the memo is for a client with a style of its
own. With ``--enrich`` only these are made, in the job that is there. Only needed when a script or
the job's format changes.
"""

from __future__ import annotations

import sys
from dataclasses import replace
from pathlib import Path

from make_media import read_script
from tamarind.audio import soundcache
from tamarind.batch.messages import Decode, Hear, Heard, Identified, Known, Probe, SoundReady
from tamarind.batch.work import do
from tamarind.captions.layout import lay_out
from tamarind.captions.limits import ORDINARY
from tamarind.formats.reading.paragraphs import PLAIN, SpeakerForm, Stamps, TextOptions
from tamarind.job.document import Document
from tamarind.job.namedsets import NamedSets
from tamarind.job.recording import Recording, State
from tamarind.job.settings import JOB_STYLES, TERM_BOOKS
from tamarind.job.store import JobStore
from tamarind.language.housestyle import HouseStyle, Numbers, Quotes, Verbatim, Wording
from tamarind.language.paragraphing import Paragraphing
from tamarind.language.stylebook import STYLES
from tamarind.speech.cutpoints import around
from tamarind.speech.hearingoptions import AS_USUAL, Care, HearingOptions
from tamarind.transcript.edits import set_heading, with_voices
from tamarind.transcript.excerpts import Excerpt, place_between, quote_of
from tamarind.transcript.model import Cue, Speaker, Transcript, Word
from tamarind.transcript.reconcile import reconcile
from tamarind.translation.draft import Brief, draft, in_target
from tamarind.translation.engines.catalogue import router
from tamarind.translation.termbook import read_terms
from tamarind.translation.tracks import Track, with_approval, with_edit, with_some

HERE = Path(__file__).parent
JOB = HERE / "Peatland voices.tamarind"
HOW = replace(AS_USUAL, care=Care.THOROUGH)
TERMS = """\
dam = barragem
post = poste
board = tábua
curlew = maçarico
drain = vala
dip well = piezómetro
"""
PORTUGUESE = {
    "Site memo, the north drain, Tuesday morning. It is blowing hard,": (
        "Nota de campo, vala norte, terça-feira de manhã. O vento está forte,"
    ),
    "so I will keep this short.": "por isso vou ser breve.",
    "Dam number four is holding. The water behind it is about forty centimetres deep,": (
        "A barragem número quatro aguenta. A água por trás tem uns quarenta centímetros,"
    ),
    "and there is a good pool on the upstream side.": "e há uma boa poça a montante.",
    "Dam number five has a leak at its left end. The timber has moved": (
        "A barragem número cinco tem uma fuga à esquerda. A madeira deslocou-se"
    ),
    "by a hand's width and the peat behind it is soft.": "um palmo e a turfa por trás está mole.",
    "It needs two people and one morning.": "São precisas duas pessoas e uma manhã.",
    "The dip well at the third post reads twelve centimetres.": (
        "O piezómetro do terceiro poste marca doze centímetros."
    ),
}
"""What a person has written over the machine's draft."""

APPROVED = 10
"""So many cues have been read and taken."""

HEADINGS = {
    "Good morning": "One number: the water table",
    "Why does that matter?": "Why it matters",
    "So how do we measure it?": "Measuring with dip wells",
    "After you block a drain": "What to expect",
    "Next week": "Next week",
}
"""Headings of the lecture, by how the cues below them begin."""

EXCERPTS = (
    ("Warden interview", "The first thing we did", "to be honest.", "Blocking the sluices",
     ("method",), "Good opening for the film."),
    ("Warden interview", "Be patient", "everything.", "", ("advice",), ""),
    ("Water table lecture", "When we drain a bog", "sky.", "Carbon", ("climate", "method"), ""),
)  # fmt: skip
"""Recording, how its first cue begins and its last one ends, name, tags, note."""

CLIENT = HouseStyle(
    name="Peat Trust",
    transcript=TextOptions(SpeakerForm.CAPITALS, stamps=Stamps.PARAGRAPHS),
    wording=Wording(
        verbatim=Verbatim.CLEAN,
        numbers=Numbers.WORDS_BELOW,
        quotes=Quotes.DOUBLE,
        terms=("Harrow Moor", "Hare Creek", "sphagnum"),
    ),
)


def main() -> None:
    """Write the job anew, or only what is made of its texts."""
    if "--enrich" in sys.argv:
        store = JobStore(JOB)
        enrich(store)
        store.close()
        return
    for leftover in HERE.glob(f"{JOB.name}*"):
        leftover.unlink()
    store = JobStore(JOB)
    interview = _add(store, "Warden interview.m4a")
    lecture = _add(store, "Water table lecture.mp4")
    memo = _add(store, "Site memo, north drain.ogg")
    table = _add(store, "Volunteers round table.wav")
    store.save_recording(replace(table, how=AS_USUAL))
    neighbour = _add(store, "Neighbour, in Italian.ogg")
    italian = replace(HOW, language="it")
    _save(store, neighbour, _hear(store, neighbour, italian), how=italian)
    _save(store, lecture, _hear(store, lecture))
    _save(store, interview, _proofed(_hear(store, interview), "warden-interview", 0.5))
    finished = _proofed(_hear(store, memo), "north-drain-memo", 1.0)
    _save(store, memo, finished, translated(finished))
    store.set_setting(TERM_BOOKS.key, TERM_BOOKS.write({"pt": TERMS}))
    store.set_setting("shown", str(interview.id))
    store.set_setting("step", "proof")
    enrich(store)
    store.close()
    print(f"{JOB.name}: {JOB.stat().st_size / 1000:.0f} kB")


def enrich(store: JobStore) -> None:
    """Add headings, excerpts, and a client's style."""
    recordings = {recording.name: recording for recording in store.recordings()}
    lecture = recordings["Water table lecture"]
    before = store.document(lecture.id)
    text = before.transcript
    for place, cue in enumerate(text.cues):
        for begins, heading in HEADINGS.items():
            if cue.text.startswith(begins):
                text = set_heading(text, place, heading)
    store.save_document(lecture.id, before, before.with_transcript(text))
    place = ""
    for name, begins, ends, title, tags, note in EXCERPTS:
        recording = recordings[name]
        before = store.document(recording.id)
        text, place = before.transcript, place_between(place, "")
        first = next(n for n, cue in enumerate(text.cues) if cue.text.startswith(begins))
        last = next(n for n, cue in enumerate(text.cues[first:], first) if cue.text.endswith(ends))
        samples = soundcache.fetch(recording.path).samples()
        words = (first, 0), (last, len(text.cues[last].words) - 1)
        start, end = around(samples, text, *words, recording.duration)
        number = 1 + max((one.id for one in before.excerpts), default=0)
        made = Excerpt(number, start, end, place, name=title, note=note, tags=tags)
        made = replace(made, quote=quote_of(text, made))
        after = replace(before, excerpts=(*(one for one in before.excerpts), made))
        store.save_document(recording.id, before, after)
    key = STYLES.key_of(CLIENT.name)
    store.set_setting(JOB_STYLES.key, JOB_STYLES.write(NamedSets({key: CLIENT})))
    store.save_recording(replace(recordings["Site memo, north drain"], style=key))


def _add(store: JobStore, name: str) -> Recording:
    recording = store.add_recording(HERE / "media" / name)
    key, path = recording.id, recording.path
    for event in (*do(Probe(key, path)), *do(Decode(key, path))):
        if isinstance(event, Known):
            recording = replace(recording, info=event.info)
        elif isinstance(event, Identified):
            recording = replace(recording, fingerprint=event.fingerprint)
        elif isinstance(event, SoundReady):
            recording = replace(recording, duration=event.duration, state=State.READY)
    store.save_recording(recording)
    return recording


def _hear(store: JobStore, recording: Recording, how: HearingOptions = HOW) -> Transcript:
    """The draft, which the job keeps."""
    cues: list[Cue] = []
    for event in do(Hear(recording.id, recording.path, how)):
        if isinstance(event, Heard):
            cues.extend(event.cues)
    text = with_voices(Transcript(how.language, tuple(cues)))
    text = Paragraphing(text).parted(PLAIN.paragraph_words, PLAIN.longest_paragraph)
    store.save_draft(recording.id, text.cues)
    return text


def _proofed(heard: Transcript, script: str, share: float) -> Transcript:
    """The first ``share`` of a draft with the true text and speakers; the rest as heard."""
    turns = read_script(script)
    names = list(dict.fromkeys(turn.speaker for turn in turns))
    speakers = tuple(Speaker(number, name) for number, name in enumerate(names, 1))
    tokens = [token for turn in turns for token in turn.text.split()]
    whose = [names.index(turn.speaker) + 1 for turn in turns for _ in turn.text.split()]
    old = [word for cue in heard.cues for word in cue.words]
    words = reconcile(old, tokens, old[0].start, old[-1].end)
    cues = lay_out(words, ORDINARY, voices=whose)
    if share < 1:
        middle = cues[int(len(cues) * share)].start
        starts = {cue.words[0].start for cue in cues}
        common = [cue.words[0].start for cue in heard.cues if cue.words[0].start in starts]
        border = min(common, key=lambda start: abs(start - middle))
        done = [cue for cue in cues if cue.words[0].start < border]
        rest = [
            replace(cue, id=1000 + cue.id) for cue in heard.cues if cue.words[0].start >= border
        ]
        cues = [_settled(cue) for cue in done] + rest
    else:
        cues = [_settled(cue) for cue in cues]
    return Transcript("en", tuple(cues), speakers)


def _settled(cue: Cue) -> Cue:
    words = tuple(Word(word.text, word.start, word.end) for word in cue.words)
    return replace(cue, words=words, settled=True)


def translated(transcript: Transcript) -> Track:
    """The memo in Portuguese: the first half proofed, the rest as the machine has it."""
    over = router()
    names = tuple(speaker.name for speaker in transcript.speakers)
    route = over.route("en", "pt")
    brief = Brief(
        "en", "pt", route, terms=read_terms(TERMS), names=names, wording=in_target(Wording())
    )
    track = Track("pt")
    for texts in draft(transcript.cues, [cue.id for cue in transcript.cues], brief, over):
        track = with_some(track, transcript.cues, texts)
    for cue in transcript.cues:
        if cue.text in PORTUGUESE:
            track = with_edit(track, cue, PORTUGUESE[cue.text])
    return with_approval(track, transcript.cues[:APPROVED])


def _save(
    store: JobStore,
    recording: Recording,
    text: Transcript,
    *tracks: Track,
    how: HearingOptions = HOW,
) -> None:
    before = store.document(recording.id)
    store.save_document(recording.id, before, Document(text, tracks))
    store.save_recording(
        replace(recording, state=State.DRAFT, heard_until=recording.duration, how=how)
    )


if __name__ == "__main__":
    main()
