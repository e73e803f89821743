import json
import unittest
from dataclasses import replace
from pathlib import Path
from xml.etree import ElementTree

from tamarind.captions.lines import with_breaks
from tamarind.formats.captions import srt, ttml, vtt
from tamarind.formats.encoding import Bytes
from tamarind.formats.filenames import NamePatternError
from tamarind.formats.format import Details
from tamarind.job.document import Document
from tamarind.job.export import ExportOptions, plan, written
from tamarind.job.recording import Recording
from tamarind.language.housestyle import HouseStyle, Quotes, Verbatim, Wording
from tamarind.transcript.model import Transcript
from tamarind.translation.tracks import Track, with_edit, with_texts
from tests.support import cue, moor

SPANISH = ("¿Cómo era el páramo?", "Seco. Podías andar a los pinos.", "El agua se iba.")
STYLE = HouseStyle("Test")


def interview(number=1, name="Moor.wav", text=None, languages=("es",)):
    text = text or moor()
    tracks = tuple(with_texts(Track(tag), text.cues, SPANISH) for tag in languages)
    return Recording(number, Path(name), duration=12_000), Document(text, tracks)


class Plans(unittest.TestCase):
    def names(self, *recordings, **export_options):
        return [file.name for file in plan(recordings, ExportOptions(**export_options))]

    def test_a_file_for_each_recording_language_and_document(self):
        told = self.names(
            interview(), interview(2, "Bog.mp3", languages=()),
            suffixes=("txt", "vtt"), languages=(None, "es"),
        )  # fmt: skip
        self.assertEqual(
            told, ["Moor.txt", "Moor.vtt", "Moor.es.txt", "Moor.es.vtt", "Bog.txt", "Bog.vtt"]
        )

    def test_what_has_no_words_is_no_file(self):
        silent = Transcript("en", (cue(1, "", 0),))
        self.assertEqual(self.names(interview(text=silent, languages=())), [])
        self.assertEqual(self.names(interview(text=Transcript("en", ()), languages=())), [])

    def test_recordings_of_one_name_do_not_write_over_each_other(self):
        told = self.names(interview(1, "a/Moor.wav"), interview(2, "b/moor.mp3"), suffixes=("srt",))
        self.assertEqual(told, ["Moor.srt", "moor-2.srt"])
        kinds = self.names(interview(), suffixes=("srt", "vtt"), pattern="{document}")
        self.assertEqual(kinds, ["srt captions.srt", "webvtt captions.vtt"])

    def test_a_field_that_there_is_not_is_told(self):
        with self.assertRaisesRegex(NamePatternError, "not {speaker}"):
            self.names(interview(), pattern="{recording} {speaker}")


class Bodies(unittest.TestCase):
    def made(self, suffix, language=None, recording=None, style=STYLE, **export_options):
        recording = recording or interview()
        wished = ExportOptions(suffixes=(suffix,), languages=(language,), **export_options)
        (file,) = plan([recording], wished)
        return written(file, *recording, style, wished)

    def text(self, *args, **more):
        return self.made(*args, **more).data.decode()

    def test_captions_have_every_word_and_transcripts_what_the_style_leaves(self):
        text = Transcript("en", (
            cue(1, 'Um, "it was dry."', 0, opens_paragraph=True), cue(2, "Uh.", 4_000),
            cue(3, "You could you could walk.", 6_000),
        ))  # fmt: skip
        style = replace(STYLE, wording=Wording(verbatim=Verbatim.CLEAN, quotes=Quotes.DOUBLE))
        recording = interview(text=text, languages=())
        captions = srt.read(self.text("srt", recording=recording, style=style), "en")
        self.assertEqual([c.text for c in captions.cues], [c.text for c in text.cues])
        told = self.text("txt", recording=recording, style=style)
        self.assertEqual(told.strip(), "“It was dry.” You could walk.")
        self.assertEqual(self.made("txt", recording=recording, style=style).facts.words, 6)

    def test_translations_keep_beside_their_cues_when_a_clean_style_drops_some(self):
        text = Transcript("en", (
            cue(1, "It was dry.", 0, opens_paragraph=True),
            cue(2, "Um.", 4_000, opens_paragraph=True),
            cue(3, "The water ran away.", 6_000, opens_paragraph=True),
        ))  # fmt: skip
        track = with_texts(Track("es"), text.cues, ("Era seco.", "Eh.", "El agua se iba."))
        recording = Recording(1, Path("Moor.wav"), duration=9_000), Document(text, (track,))
        style = replace(STYLE, wording=Wording(verbatim=Verbatim.CLEAN))
        page = self.text("html", recording=recording, style=style, side_by_side=True)
        body = ElementTree.fromstring(page[page.index("<tbody>") : page.index("</table>")])
        rows = [["".join(cell.itertext()) for cell in row] for row in body]
        self.assertEqual(
            rows, [["It was dry.", "Era seco."], ["The water ran away.", "El agua se iba."]]
        )

    def test_a_translation_has_its_own_text_at_the_times_of_the_source(self):
        captions = srt.read(self.text("srt", "es"), "es")
        self.assertEqual([c.text for c in captions.cues], list(SPANISH))
        self.assertEqual([c.start for c in captions.cues], [c.start for c in moor().cues])
        self.assertEqual(self.made("srt", "es").facts.words, len(" ".join(SPANISH).split()))

    def test_a_cue_without_translation_is_left_out_of_it(self):
        recording, document = interview()
        (track,) = document.tracks
        bare = with_edit(track, document.transcript.cues[1], "")
        captions = srt.read(self.text("srt", "es", (recording, document.with_track(bare))), "es")
        self.assertEqual([c.text for c in captions.cues], [SPANISH[0], SPANISH[2]])

    def test_two_languages_stand_in_one_caption_in_the_order_that_is_wished(self):
        both = srt.read(self.text("srt", below="es"), "en")
        self.assertEqual(both.cues[0].lines, (moor().cues[0].text, SPANISH[0]))
        turned = ExportOptions(suffixes=("srt",), languages=("es",), below="es")
        (file,) = plan([interview()], turned)
        alone = srt.read(written(file, *interview(), STYLE, turned).data.decode(), "es")
        self.assertEqual(alone.cues[0].lines, (SPANISH[0],))

    def test_a_language_that_a_recording_lacks_leaves_its_captions_as_they_are(self):
        recording = interview(languages=())
        self.assertEqual(self.text("srt", recording=recording, below="es"),
                         self.text("srt", recording=recording))  # fmt: skip

    def test_rolling_up_shows_each_line_and_then_again_above_the_next(self):
        narrow = replace(STYLE, captions=replace(STYLE.captions, line_length=16))
        plain = with_breaks(moor(), narrow.captions)
        rolling = vtt.read(self.text("vtt", style=narrow, rows=2), "en")
        lines = [line for each in plain.cues for line in each.lines]
        self.assertEqual([c.lines[-1] for c in rolling.cues], lines)
        self.assertTrue(all(len(c.lines) <= 2 for c in rolling.cues))
        self.assertIn((lines[0], lines[1]), [c.lines for c in rolling.cues])

    def test_webvtt_has_speakers_and_word_times_if_wished(self):
        self.assertIn("<v Warden>", self.text("vtt"))
        bare = self.text("vtt", details=Details(voices=False, word_times=True))
        self.assertNotIn("<v ", bare)
        self.assertIn("<00:00:01.300>", bare)

    def test_ttml_names_its_speakers_and_comes_back(self):
        again = ttml.read(self.text("ttml"), "en")
        self.assertEqual([s.name for s in again.speakers], ["Interviewer", "Warden"])
        self.assertEqual([c.text for c in again.cues], [c.text for c in moor().cues])

    def test_a_table_and_the_json_hold_all_languages(self):
        head, first, *_ = self.text("csv").splitlines()
        self.assertTrue(head.endswith(",es"), head)
        self.assertTrue(first.endswith(SPANISH[0]), first)
        self.assertEqual(json.loads(self.text("json"))["translations"]["es"], list(SPANISH))

    def test_bytes_are_as_wished_where_the_format_allows_it(self):
        wished = Bytes("cp1252", False, True)
        data = self.made("srt", "es", bytes=wished).data
        self.assertIn("¿Cómo era el páramo?\r\n".encode("cp1252"), data)
        self.assertIn(SPANISH[0].encode(), self.made("vtt", "es", bytes=wished).data)
