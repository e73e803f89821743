"""Colours, places, looks and readings of captions, from format to format."""

import io
import unittest
from dataclasses import replace

import docx
import pysubs2
from docx.oxml.ns import qn

from tamarind.formats import documents
from tamarind.formats.captionfile import Repairs
from tamarind.formats.captions import srt, substation, ttml, vtt
from tamarind.formats.data import everything
from tamarind.formats.format import Options, Origin
from tamarind.formats.losses import in_words, losses
from tamarind.formats.placing import anchor_of, is_exact, placement_of
from tamarind.transcript.bounds import is_placement
from tamarind.transcript.fields import Holds
from tamarind.transcript.model import Transcript
from tests.support import cue

STYLED = (
    "WEBVTT\n\n"
    "00:01.000 --> 00:02.000 line:0\nWet <c.yellow>peat moss</c>\n\n"
    "00:03.000 --> 00:04.000 position:0% align:left\n<i>Dry</i> <c.colour-ff8800>heather</c>\n\n"
    "00:05.000 --> 00:06.000\nThe <ruby>bog<rt>moor</rt></ruby> again\n"
)


def srt_of(body):
    return f"1\n00:00:01,000 --> 00:00:02,000\n{body}\n"


class Styling(unittest.TestCase):
    def spans(self, text):
        return [[word.spans for word in cue.words] for cue in text.cues]

    def places(self, text):
        return [cue.placement for cue in text.cues]

    def test_each_caption_format_gives_back_what_it_can_hold(self):
        text = vtt.read(STYLED, "en")
        for form in (vtt, ttml):
            again = form.read(form.write(text), "en")
            self.assertEqual(self.spans(again), self.spans(text), form)
            self.assertEqual(self.places(again), self.places(text), form)
            self.assertEqual([c.text for c in again.cues], [c.text for c in text.cues])
        again = srt.read(srt.write(text), "en")
        self.assertEqual(self.spans(again)[:2], self.spans(text)[:2])
        self.assertEqual(self.places(again), self.places(text))
        self.assertEqual(again.cues[2].text, "The bog again")
        data = everything.write(text, "a", 9_000, {})
        self.assertEqual(self.spans(everything.read(data, "en")), self.spans(text))

    def test_a_cue_in_another_language_keeps_it_in_every_format_that_can(self):
        text = Transcript("en", (
            cue(1, "We asked him.", 0), replace(cue(2, "El agua sube.", 3_000), language="es"),
            cue(3, "He said the água rises.", 6_000),
        ))  # fmt: skip
        mixed = text.cues[2].words
        mixed = tuple(replace(w, spans=("lang pt",)) if w.text == "água" else w for w in mixed)
        text = replace(text, cues=(*text.cues[:2], replace(text.cues[2], words=mixed)))
        for form in (vtt, ttml):
            written = form.write(text)
            again = form.read(written, "en")
            self.assertEqual([c.language for c in again.cues], ["", "es", ""], form)
            self.assertEqual(self.spans(again), self.spans(text), form)
            self.assertEqual(form.write(again), written)
        self.assertIn("<lang es>El agua sube.</lang>", vtt.write(text))
        self.assertIn('<span xml:lang="es">', ttml.write(text))
        again = everything.read(everything.write(text, "a", 9_000), "en")
        self.assertEqual(again.cues[1].language, "es")
        page = documents.write("html", text, Origin("a", 9_000), Options()).decode()
        self.assertIn('<span lang="es">El agua sube.', page)
        self.assertIn('<span lang="pt">água', page)
        data = documents.write("docx", text, Origin("a", 9_000), Options())
        runs = [run for one in docx.Document(io.BytesIO(data)).paragraphs for run in one.runs]
        marked = {run.text.strip(): tag.get(qn("w:val")) for run in runs
                  for tag in run._r.iter(qn("w:lang"))}  # fmt: skip
        self.assertEqual(marked, {"El agua sube.": "es", "água": "pt"})
        self.assertIn("languages of words (2)", in_words(losses(text, "srt")))
        for suffix in ("vtt", "ttml", "html", "docx"):
            self.assertNotIn(Holds.LANGUAGE, losses(text, suffix), suffix)

    def test_the_whole_files_language_is_no_cues_own(self):
        own = vtt.read("WEBVTT\n\n00:01.000 --> 00:02.000\n<lang en>Wet <i>peat</i></lang>\n", "en")
        self.assertEqual([c.language for c in own.cues], [""])
        self.assertEqual(self.spans(own), [[("lang en",), ("lang en", "i")]])

    def test_what_subrip_says_of_colours_and_places(self):
        for body, spans, placement in (
            ("{\\an8}Up <font color=\"#FFFF00\">here</font>", [(), ("c.yellow",)], "line:0"),
            ("<font color=#f80>Wet</font> peat{\\an1}", [("c.colour-ff8800",), ()],
             "position:0% align:left"),
            ("{\\a6}Top <b><font color='Lime'>two</b> x</font>", [(), ("b", "c.lime"),
             ("c.lime",)], "line:0"),
            ("{\\an2}Usual", [()], ""),
        ):  # fmt: skip
            text = srt.read(srt_of(body), "en")
            self.assertEqual(self.spans(text), [spans], body)
            self.assertEqual(self.places(text), [placement], body)

    def test_a_colour_of_its_own_is_given_a_rule_in_webvtt(self):
        text = srt.read(srt_of('<font color="#123456">deep</font>'), "en")
        written = vtt.write(text)
        self.assertIn("STYLE\n::cue(.colour-123456) { color: #123456; }\n", written)
        self.assertEqual(vtt.write(vtt.read(written, "en")), written)

    def test_nine_places_there_and_back(self):
        for anchor in range(1, 10):
            placement = placement_of(anchor)
            self.assertTrue(is_placement(placement), placement)
            self.assertEqual(anchor_of(placement), anchor)
            self.assertTrue(is_exact(placement))
            text = vtt.read(f"WEBVTT\n\n00:01.000 --> 00:02.000 {placement}\nPeat\n", "en")
            for form in (srt, ttml, vtt):
                self.assertEqual(self.places(form.read(form.write(text), "en")), [placement], form)
        for settings, anchor in (
            ("line:85%", 2), ("line:-1", 2), ("line:3", 8), ("line:10%,start position:20%", 7),
            ("align:end size:40%", 3), ("line:50%,center", 5), ("line:junk%", 2),
            ("vertical:rl", 2),
        ):  # fmt: skip
            self.assertEqual(anchor_of(settings), anchor, settings)

    def test_regions_of_others_in_percent_pixels_and_by_style(self):
        head = (
            '<tt xmlns="http://www.w3.org/ns/ttml" xmlns:tts="http://www.w3.org/ns/ttml#styling"'
            ' xml:lang="en" tts:extent="1280px 720px"><head><styling>'
            '<style xml:id="up" tts:displayAlign="before"/></styling><layout>'
            '<region xml:id="top" style="up" tts:origin="10% 8%" tts:extent="80% 20%"/>'
            '<region xml:id="low"><style tts:origin="128px 576px"/>'
            '<style tts:extent="1024px 100px" tts:displayAlign="after"/></region>'
            '<region xml:id="odd" tts:origin="3c 2c" tts:extent="9c 9c"/></layout></head><body>'
        )
        repairs = Repairs()
        text = ttml.read(
            head + '<div region="top"><p begin="1s" end="2s">Up</p></div><div>'
            '<p begin="3s" end="4s" region="low">Down</p>'
            '<p begin="5s" end="6s" region="odd">Odd</p></div></body></tt>',
            "en",
            repairs,
        )
        self.assertEqual(self.places(text), ["line:0", "", ""])
        self.assertEqual(repairs.dropped["places on the picture"], 1)

    def test_substation_colours_and_places_by_code_and_by_style(self):
        file = pysubs2.SSAFile()
        file.styles = {
            "Default": pysubs2.SSAStyle(),
            "Ann": pysubs2.SSAStyle(
                primarycolor=pysubs2.Color(255, 255, 0), alignment=pysubs2.Alignment.TOP_CENTER
            ),
        }
        file.events = [
            pysubs2.SSAEvent(1000, 2000, "{\\an7}Wet {\\c&H0000FF&}peat", style="Default"),
            pysubs2.SSAEvent(3000, 4000, "Dry", style="Ann"),
            pysubs2.SSAEvent(5000, 6000, "{\\pos(10,20)}There", style="Default"),
        ]
        repairs = Repairs()
        text = substation.read(file.to_string("ass"), "en", repairs)
        self.assertEqual(self.spans(text), [[(), ("c.red",)], [("c.yellow",)], [()]])
        self.assertEqual(self.places(text)[:2], ["line:0 position:0% align:left", "line:0"])
        self.assertEqual(repairs.dropped["effects and exact places"], 1)

    def test_what_is_lost_is_told(self):
        text = vtt.read(STYLED.replace("line:0", "line:22%"), "en")
        self.assertFalse(losses(text, "vtt"))
        self.assertFalse(losses(text, "json"))
        told = in_words(losses(text, "srt"))
        self.assertIn("ruby annotations", told)
        self.assertIn("exact places", told)
        self.assertNotIn("colours", told)
        self.assertIn("colours (3)", in_words(losses(text, "txt")))
        repairs = Repairs()
        srt.read(srt_of('<font face="Cabin">a</font> <s>b</s> {\\fad(1,2)}c'), "en", repairs)
        self.assertEqual(
            set(repairs.dropped),
            {"typefaces and sizes", "struck-through text", "other formatting codes"},
        )
