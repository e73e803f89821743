"""How accurate, how fast and how honest hearing is, beside the recogniser package's transcriber.

    .venv/bin/python benchmarks/hearing.py [accuracy] [silence] [stages] [glossary] [speakers]

Everything is measured in one run on the same recordings: those of people with public texts, the
demo's and the evaluation set (see ``evaluation_set.py``, which makes it when it is missing). Ours
is the whole way from a file to timed cues, theirs what the package's own transcriber makes of
sound already decoded, without word times or confidences. Without a name all sections are printed.
"""

from __future__ import annotations

import os
import re
import resource
import sys
import tempfile
import time
from collections import defaultdict
from collections.abc import Iterable
from pathlib import Path

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE.parent), str(HERE.parent / "demo")]

import numpy as np  # noqa: E402
from moonshine_voice.moonshine_api import ModelArch  # noqa: E402
from moonshine_voice.transcriber import Transcriber  # noqa: E402
from scipy.optimize import linear_sum_assignment  # noqa: E402

from evaluation_set import glossary_file, nothing_said  # noqa: E402
from material import Known, known_recordings  # noqa: E402
from tamarind.audio import soundcache  # noqa: E402
from tamarind.batch.messages import Failed, Hear, Heard  # noqa: E402
from tamarind.batch.transcribing import tools  # noqa: E402
from tamarind.batch.work import do  # noqa: E402
from tamarind.speech.activity import ActivityMeter  # noqa: E402
from tamarind.speech.detector import FRAME  # noqa: E402
from tamarind.speech.glossary import Glossary, read_glossary  # noqa: E402
from tamarind.speech.hearingoptions import Care, HearingOptions, Voices  # noqa: E402
from tamarind.speech.recognisers.builtin import model_folder  # noqa: E402
from tamarind.speech.segments import cut  # noqa: E402
from tamarind.transcript.model import Cue, Word  # noqa: E402
from truth import matched, plain, right_words, word_errors  # noqa: E402

SECTIONS = {"accuracy", "silence", "stages", "glossary", "speakers"}
INVENTED_BELOW = 0.3
SPEECH_WITHIN_DB = 25


def ours(recording: Known | Path, how: HearingOptions) -> tuple[list[Cue], float]:
    """Return our cues, and the seconds from the file on."""
    path = recording if isinstance(recording, Path) else recording.path
    began = time.perf_counter()
    events = list(do(Hear(1, path, how, (0, None))))
    assert not isinstance(events[-1], Failed), events[-1]
    cues = [cue for event in events if isinstance(event, Heard) for cue in event.cues]
    return cues, time.perf_counter() - began


def theirs(recording: Known, transcriber: Transcriber) -> tuple[str, float]:
    """Return the text of the package's own transcriber, from decoded samples on."""
    samples = soundcache.fetch(recording.path).samples()
    began = time.perf_counter()
    result = transcriber.transcribe_without_streaming(samples.tolist(), 16_000)
    return " ".join(line.text for line in result.lines), time.perf_counter() - began


def words_of(cues: Iterable[Cue]) -> list[Word]:
    """Return all words in order."""
    return [word for cue in cues for word in cue.words]


def accuracy(recordings: list[Known], transcriber: Transcriber) -> dict[str, list[list[Cue]]]:
    """Print word errors and speed by condition; returns what was heard with each care."""
    heard: dict[str, list[list[Cue]]] = {care.value: [] for care in Care}
    columns = [*heard, "theirs"]
    sums: dict[str, dict[str, np.ndarray]] = defaultdict(lambda: defaultdict(lambda: np.zeros(4)))
    for recording in recordings:
        length = soundcache.fetch(recording.path).decoded.duration / 1000
        for name in columns:
            if name == "theirs":
                text, took = theirs(recording, transcriber)
            else:
                cues, took = ours(recording, HearingOptions(care=Care(name)))
                heard[name].append(cues)
                text = " ".join(word.text for word in words_of(cues))
            wrong, count = word_errors(recording.text, text)
            for group in (recording.condition, "all"):
                sums[group][name] += (wrong, count, length, took)
    print(f"{'':12}{'words':>7}" + "".join(f"{name:>18}" for name in columns) + "   quick/theirs")
    for group, results in sums.items():
        cells = [f"{r[0] / r[1]:8.1%} {r[2] / r[3]:6.1f}×  " for r in results.values()]
        ratio = results["quick"][0] / max(results["theirs"][0], 1)
        print(f"{group:12}{results['quick'][1]:7.0f}  {''.join(cells)}{ratio:10.2f}")
    return heard


def confidences(name: str, recordings: list[Known], heard: list[list[Cue]]) -> None:
    """Print how many of the wrong words are among the least certain, and the calibration."""
    pairs = []
    for recording, cues in zip(recordings, heard, strict=True):
        words = words_of(cues)
        right = right_words(recording.text.split(), [word.text for word in words])
        pairs += [(word.confidence or 0.0, ok) for word, ok in zip(words, right, strict=True)]
    sure, right = (np.array(column, float) for column in zip(*pairs, strict=True))
    wrong = 1 - right[np.argsort(sure)]
    shares = [wrong[: int(len(wrong) * part)].sum() / wrong.sum() for part in (0.1, 0.2)]
    best = min(0.1 * len(wrong) / wrong.sum(), 1.0)
    print(f"certainty, {name}: of the wrong words {shares[0]:.0%} in the least certain 10 % (at "
          f"best {best:.0%}), {shares[1]:.0%} in 20 %")  # fmt: skip
    print(f"  forecast of wrong words: {(1 - sure).sum():.0f}, wrong are {(1 - right).sum():.0f}")
    bands = [(0.0, 0.3), (0.3, 0.6), (0.6, 0.8), (0.8, 0.9), (0.9, 1.01)]
    cells = []
    for low, high in bands:
        inside = (sure >= low) & (sure < high)
        if inside.any():
            cells.append(f"{sure[inside].mean():.2f} → {right[inside].mean():.2f} ({inside.sum()})")
    print("  said → right (words):", ", ".join(cells))


def marks(name: str, recordings: list[Known], heard: list[list[Cue]]) -> None:
    """Print F1 of sentence ends, question marks, commas and capitals, by kind of recording."""
    counts: dict[str, dict[str, np.ndarray]] = defaultdict(lambda: defaultdict(lambda: np.zeros(3)))
    for recording, cues in zip(recordings, heard, strict=True):
        there, found = recording.text.split(), [word.text for word in words_of(cues)]
        group = recording.condition if recording.condition in ("people", "demo") else "made"
        own = counts[group]
        for side, words in ((1, there), (2, found)):
            for word in words:
                for kind in _marks_of(word):
                    own[kind][side] += 1
        for kind in _shared_marks(there, found):
            own[kind][0] += 1
    for group, own in counts.items():
        scores = [f"{kind} {2 * c[0] / max(c[1] + c[2], 1):.2f}" for kind, c in own.items()]
        print(f"marks, {name}, {group} (F1): {', '.join(sorted(scores))}")


def _marks_of(word: str) -> set[str]:
    end = word.rstrip("\"'”’)")[-1:]
    kinds = {"ends": end in ".!?…", "questions": end == "?", "commas": end in ",;:"}
    kinds["capitals"] = word[:1].isupper()
    return {kind for kind, holds in kinds.items() if holds and word}


def _shared_marks(there: list[str], found: list[str]) -> Iterable[str]:
    """Return the kind of each mark that both texts have at the same word."""
    truth, ours_ = plain(there), plain(found)
    pairs = matched([form.text for form in truth], [form.text for form in ours_])
    lasts: dict[int, int] = {}
    for left, right in pairs:
        if left is not None and right is not None:
            lasts[truth[left].owner] = ours_[right].owner
    for owner, other in lasts.items():
        yield from _marks_of(there[owner]) & _marks_of(found[other])


def word_times(recordings: list[Known], heard: list[list[Cue]]) -> None:
    """Print the errors of the starts of correct words, where the synthesiser's times are known."""
    errors: dict[str, list[int]] = defaultdict(list)
    for recording, cues in zip(recordings, heard, strict=True):
        words = words_of(cues)
        if not recording.words:
            continue
        truth = plain([word.text for word in recording.words])
        found = plain([word.text for word in words])
        first = {form.owner: place for place, form in reversed(list(enumerate(truth)))}
        for x, y in matched([f.text for f in truth], [f.text for f in found]):
            if x is None or y is None or truth[x].text != found[y].text:
                continue
            true = recording.words[truth[x].owner].start
            if true is not None and first[truth[x].owner] == x:
                error = abs(words[found[y].owner].start - true)
                errors[recording.condition].append(error)
                errors["all"].append(error)
    for name, own in errors.items():
        print(f"word starts, {name:10} {len(own):5} words: median {np.median(own):3.0f} ms, "
              f"95 % {np.quantile(own, 0.95):4.0f} ms")  # fmt: skip


def cue_starts(recordings: list[Known], heard: list[list[Cue]]) -> None:
    """Print cue starts against the onset of sound, for cues after a pause of 200 ms."""
    errors = []
    for recording, cues in zip(recordings, heard, strict=True):
        if recording.condition != "people":
            continue
        samples = soundcache.fetch(recording.path).samples()
        frames = samples[: len(samples) // 160 * 160].reshape(-1, 160)
        level = 10 * np.log10(np.mean(frames**2, axis=1) + 1e-12)
        loud = level > np.quantile(level, 0.95) - SPEECH_WITHIN_DB
        onsets = [t for t in range(20, len(loud)) if loud[t] and not loud[t - 20 : t].any()]
        for cue in cues:
            near = [t * 10 for t in onsets if abs(t * 10 - cue.words[0].start) <= 600]
            if near:
                errors.append(abs(cue.start - min(near, key=lambda t: abs(t - cue.words[0].start))))
    inside = np.mean(np.array(errors) <= 100)
    print(f"cue starts of people: {len(errors)}, within 100 ms of the sound {inside:.0%}, "
          f"median {np.median(errors):.0f} ms, worst {max(errors)} ms")  # fmt: skip


def glossary(recordings: list[Known]) -> None:
    """Print terms right with and without the glossary, and terms where none was said."""
    listed = read_glossary(glossary_file().read_text())
    for name, terms in (("without", Glossary()), ("with", listed)):
        for care in Care:
            right = said = false = count = 0
            for recording in recordings:
                if recording.condition not in ("people", "demo", "clean", "telephone"):
                    continue
                cues, _ = ours(recording, HearingOptions(care=care, glossary=terms))
                text = " ".join(word.text for word in words_of(cues))
                count += len(recording.text.split())
                for term in listed.terms:
                    there, found = _times(term.text, recording.text), _times(term.text, text)
                    right, said = right + min(there, found), said + there
                    false += max(found - there, 0)
            print(f"glossary terms, {care.value}, {name} the glossary: {right} of {said} right "
                  f"({right / said:.0%}), {false} false in {count} words")  # fmt: skip


def _times(term: str, text: str) -> int:
    words = r"[\s-]+".join(map(re.escape, term.casefold().split()))
    return len(re.findall(rf"\b{words}(?:s|'s)?\b", text.casefold()))


def speakers(recordings: list[Known]) -> None:
    """Print the share of the spoken time that is given to a wrong speaker, with the best naming."""
    for count, subject in ((2, "memories"), (4, "meeting")):
        for recording in recordings:
            if not recording.name.startswith(subject):
                continue
            if recording.condition not in ("clean", "telephone", "noise"):
                continue
            cues, took = ours(recording, HearingOptions(voices=Voices(True)))
            said = sorted({voice for *_, voice in recording.turns})
            found = sorted({cue.speaker for cue in cues if cue.speaker is not None})
            shared = np.zeros((len(said), len(found)))
            for word, speaker in ((w, cue.speaker) for cue in cues for w in cue.words):
                for start, end, voice in recording.turns:
                    overlap = min(end, word.end) - max(start, word.start)
                    if overlap > 0 and speaker is not None:
                        shared[said.index(voice), found.index(speaker)] += overlap
            rows, columns = linear_sum_assignment(-shared)
            wrong = 1 - shared[rows, columns].sum() / shared.sum()
            length = soundcache.fetch(recording.path).decoded.duration / 1000
            print(f"speakers, {recording.name}: {len(found)} found of {count}, {wrong:.1%} of the "
                  f"time wrong, {length / took:.1f}× real time")  # fmt: skip


def inventions() -> None:
    """Print words recognised in an hour without speech."""
    total = unmarked = 0
    for path in nothing_said():
        words = words_of(ours(path, HearingOptions())[0])
        total += len(words)
        unmarked += sum((word.confidence or 0) >= INVENTED_BELOW for word in words)
    print(f"an hour without speech: {total} words, {unmarked} of them not marked as invented")


def where_time_goes(path: Path) -> None:
    """Print the shares of the stages on one recording, one after the other."""
    samples = soundcache.fetch(path).samples()
    marks = [time.perf_counter()]
    activity = ActivityMeter().measure(samples)
    sounds = [samples[c.first * FRAME : c.last * FRAME] for c in cut(activity)]
    marks.append(time.perf_counter())
    hypotheses = tools().recogniser.hear(sounds, HearingOptions())
    marks.append(time.perf_counter())
    texts = [[word.text for word in best.words] for best, *_rest in hypotheses]
    tools().aligner.align(sounds, texts, [[] for _ in sounds])
    marks.append(time.perf_counter())
    names = ("activity and chunks", "recognition", "alignment")
    parts = [
        f"{name} {(b - a) / (marks[-1] - marks[0]):.0%}"
        for name, a, b in zip(names, marks, marks[1:], strict=False)
    ]
    print("where the time goes:", ", ".join(parts))


def main() -> None:
    """Print one section after the other."""
    sys.stdout.reconfigure(line_buffering=True)
    recordings = known_recordings()
    wanted = set(sys.argv[1:]) or SECTIONS
    with tempfile.TemporaryDirectory() as folder:
        os.environ["XDG_CACHE_HOME"] = folder
        transcriber = Transcriber(str(model_folder()), ModelArch.TINY)
        ours(recordings[1], HearingOptions())
        theirs(recordings[1], transcriber)
        if "accuracy" in wanted:
            heard = accuracy(recordings, transcriber)
            for name, cues in heard.items():
                confidences(name, recordings, cues)
                marks(name, recordings, cues)
            word_times(recordings, heard["quick"])
            cue_starts(recordings, heard["quick"])
        if "silence" in wanted:
            inventions()
        if "stages" in wanted:
            where_time_goes(recordings[-1].path)
        if "glossary" in wanted:
            glossary(recordings)
        if "speakers" in wanted:
            speakers(recordings)
        peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1e6
        print(f"peak memory of this process, all models loaded: {peak:.2f} GB")


if __name__ == "__main__":
    main()
