"""What goes in comes out, or is told: every field in every format, captions of every kind."""

import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from tamarind.formats import documents
from tamarind.formats.captionfile import FormatError
from tamarind.formats.documents import READ, WRITTEN
from tamarind.formats.format import DocumentKind, Options, Origin
from tamarind.formats.losses import losses
from tamarind.transcript.fields import OF_A_CUE, Fate, Holds
from tamarind.transcript.model import Cue, Speaker, Transcript, Word
from tests.support import words_of
from tests.transcript.test_codec import UNUSUAL, UNUSUAL_WORD

CAPTIONS = [
    suffix
    for suffix, form in WRITTEN.items()
    if suffix in READ
    and form.kind in (DocumentKind.CAPTIONS, DocumentKind.BROADCAST, DocumentKind.DATA)
    and suffix in READ[suffix].suffixes
]
FRAMES = 90
"""Broadcasters' files count frames, and show nothing for less than two (ms)."""

HOUR = 3_600_000


def read_back(suffix, text):
    """A text as a format gives it back, and what is told: losses, lacks, what was mended."""
    form = WRITTEN[suffix]
    data = documents.write(suffix, text, Origin("a", 200 * HOUR), Options())
    read = documents.read_bytes(data, suffix, f"a.{suffix}", text.language)
    lacks = list(form.lacks(text, Options())) if form.lacks is not None else []
    return read.transcript, losses(text, suffix), [*lacks, *read.repairs]


class EveryField(unittest.TestCase):
    def test_it_is_kept_or_among_the_losses(self):
        plain = Cue(1, 1_000, 4_000, words_of("the moor was wet", 1_000), speaker=None)
        for suffix in CAPTIONS:
            for name, fate in ((one.name, one.fate) for one in OF_A_CUE):
                if isinstance(fate, Fate):
                    continue
                with self.subTest(suffix, field=name):
                    value = 1 if name == "speaker" else getattr(UNUSUAL, name)
                    text = Transcript(
                        "en", (replace(plain, **{name: value}),), (Speaker(1, "Ann"),)
                    )
                    again, lost, _ = read_back(suffix, text)
                    (cue,) = again.cues
                    self.assertEqual(cue.text, plain.text)
                    if fate not in lost and not (name == "placement" and Holds.FINE_PLACE in lost):
                        self.assertEqual(getattr(cue, name), value)

    def test_spans_of_words_are_kept_or_among_the_losses(self):
        for suffix in CAPTIONS:
            for span in ("i", "b", "u", "c.yellow", "c.loud", "lang pt", *UNUSUAL_WORD.spans):
                with self.subTest(suffix, span=span):
                    words = [replace(word, spans=(span,)) for word in words_of("very wet", 1_000)]
                    text = Transcript("en", (Cue(1, 1_000, 3_000, tuple(words)),))
                    again, lost, told = read_back(suffix, text)
                    if not lost and not told:
                        (cue,) = again.cues
                        spans = {word.spans for word in cue.words}
                        whole = f"lang {cue.language}" == span
                        self.assertTrue(whole or spans == {(span,)}, spans)


class EveryCaption(unittest.TestCase):
    def same(self, suffix, text):
        try:
            again, _, told = read_back(suffix, text)
        except FormatError as error:
            self.assertTrue(str(error))
            return
        said = [(cue.text, cue.start, cue.end) for cue in text.cues if cue.words]
        found = [(cue.text, cue.start, cue.end) for cue in again.cues]
        self.assertEqual(sorted(one[0] for one in found), sorted(one[0] for one in said))
        if told:
            return
        for one, other in zip(sorted(said), sorted(found), strict=True):
            self.assertLessEqual(abs(one[1] - other[1]), FRAMES, (suffix, said, found))
            self.assertLessEqual(abs(one[2] - other[2]), FRAMES, (suffix, said, found))

    @given(
        st.lists(
            st.tuples(
                st.sampled_from([0, 1_000, 3_000, 3_001, 5_000, 9 * HOUR, 10 * HOUR, 25 * HOUR]),
                st.sampled_from([0, 1, 40, 900, 4_000]),
            ),
            min_size=1,
            max_size=6,
        )
    )
    def test_overlapping_nested_brief_and_late_ones(self, spans):
        cues = []
        for number, (start, length) in enumerate(sorted(spans), 1):
            word = Word(f"word{number}", start, start + max(length, 1))
            cues.append(Cue(number, start, word.end, (word,)))
        text = Transcript("en", tuple(cues))
        for suffix in CAPTIONS:
            with self.subTest(suffix):
                self.same(suffix, text)


if __name__ == "__main__":
    unittest.main()
