"""The page to publish: its markup, and in a real browser where there is one."""

import io
import json
import re
import shutil
import unittest
from html.parser import HTMLParser
from importlib.resources import files

import html5lib
import numpy as np

from tamarind.formats.captions.vtt import write as webvtt
from tamarind.formats.data.chapters import Chapter
from tamarind.formats.playerpage.content import PageContent, PageText, timed_words
from tamarind.formats.playerpage.markup import write
from tamarind.formats.reading.paragraphs import paragraphs
from tamarind.transcript import languages
from tamarind.transcript.descriptions import Description
from tamarind.transcript.model import Speaker, Transcript
from tests.support import FolderTest, cue, tone, write_wav

CHROMIUM = shutil.which("chromium") or shutil.which("chromium-browser")
EVIL = "</script><script>window.hit=1</script><img src=x onerror=window.hit=2>"
FLAGS = ["--no-sandbox", "--disable-gpu", "--autoplay-policy=no-user-gesture-required",
         "--disable-background-networking", "--no-first-run", "--mute-audio"]  # fmt: skip


def text(language="en", words=("The moss came back", "slowly and stayed", "Was it dry?")):
    return Transcript(
        language,
        (
            cue(1, words[0], 1_000, speaker=1, opens_paragraph=True, heading="How it began"),
            cue(2, words[1], 3_000, speaker=1),
            cue(3, words[2], 6_000, speaker=2, opens_paragraph=True),
        ),
        (Speaker(1, "Ann"), Speaker(2, "Ben")),
    )


def page_text(made, name="English"):
    return PageText(made.language, name, made, paragraphs(made), webvtt(made))


def content(*texts, media="media.wav", **more):
    texts = texts or (page_text(text()),)
    chapters = (Chapter(0, 5_000, "How it began"), Chapter(5_000, 10_000, "Then"))
    given = {"title": "Moss", "media": media, "media_type": "audio/wav", "has_picture": False,
             "texts": texts, "chapters": chapters, "facts": "00:00:10"}  # fmt: skip
    return PageContent(**{**given, **more})


class Read(HTMLParser):
    def __init__(self, page):
        super().__init__()
        self.tags, self.text = [], ""
        self.feed(page)

    def handle_starttag(self, tag, attributes):
        self.tags.append((tag, dict(attributes)))

    def handle_data(self, data):
        self.text += data


class Markup(unittest.TestCase):
    def test_it_is_html_without_an_error(self):
        for made in (content(), content(title=EVIL), content(chapters=(), facts="")):
            parser = html5lib.HTMLParser(strict=True)
            parser.parse(io.StringIO(write(made)))

    def test_words_are_found_where_browsers_count_them(self):
        made = Transcript("en", (cue(1, "The 🌱 moss is «green», moss", 0),))
        (paragraph,) = paragraphs(made)
        found = timed_words(made, paragraph)
        units = paragraph.text.encode("utf-16-le")
        said = [units[2 * a : 2 * (a + n)].decode("utf-16-le") for a, n, *_ in found]
        self.assertEqual(said, [word.text for word in made.cues[0].words])
        self.assertEqual([w[2:] for w in found], [(w.start, w.end) for w in made.cues[0].words])

    def test_nothing_of_a_text_is_markup(self):
        made = text(words=(EVIL, "--> {{x}} ${1}", EVIL))
        made = Transcript("en", made.cues, (Speaker(1, EVIL), Speaker(2, EVIL)))
        evil = content(page_text(made, EVIL), title=EVIL, facts=EVIL, media='x" onerror="1',
                       chapters=(Chapter(0, 9, EVIL),), captions=((EVIL, 'a" x="'),))  # fmt: skip
        page = write(evil)
        read = Read(page)
        self.assertEqual(sum(tag == "script" for tag, _ in read.tags), 2)
        self.assertFalse(any(tag == "img" for tag, _ in read.tags))
        self.assertFalse(any(name.startswith("on") for _, given in read.tags for name in given))

    def test_without_a_script_it_is_a_player_and_plain_text(self):
        read = Read(write(content(page_text(text()), page_text(text("es"), "Español"))))
        tracks = [(g["kind"], g["srclang"], "default" in g) for t, g in read.tags if t == "track"]
        self.assertEqual(tracks, [("captions", "en", True), ("captions", "es", False),
                                  ("chapters", "en", False)])  # fmt: skip
        (tools,) = [given for tag, given in read.tags if given.get("class") == "tools"]
        self.assertIn("hidden", tools)
        sections = [given for tag, given in read.tags if tag == "section"]
        self.assertEqual([given["lang"] for given in sections], ["en", "es"])
        self.assertFalse(any("hidden" in given for given in sections))

    def test_its_words_are_in_the_language_of_the_recording(self):
        for language, words in (("es-MX", "Siguiente"), ("nb", "Neste"), ("mi", "Next match")):
            page = write(content(page_text(text(language))))
            self.assertIn(words, page)
        self.assertIn('<a class="skip" href="#transcript" lang="de">Zum Transkript</a>',
                      write(content(page_text(text("de")))))  # fmt: skip

    def test_each_language_has_each_word_and_what_stands_in_it(self):
        tables = json.loads(files("tamarind.formats.playerpage").joinpath("words.json").read_text())
        self.assertGreaterEqual(len(tables), 20)
        for language, table in tables.items():
            self.assertTrue(languages.is_known(language), language)
            self.assertEqual(table.keys(), tables["en"].keys(), language)
            for name, words in table.items():
                held = set(re.findall(r"{\w+}", words))
                self.assertEqual(held, set(re.findall(r"{\w+}", tables["en"][name])), words)


@unittest.skipUnless(CHROMIUM, "no Chromium is installed here")
class InABrowser(FolderTest):
    @classmethod
    def setUpClass(cls):
        from playwright.sync_api import sync_playwright

        cls.playwright = sync_playwright().start()
        cls.browser = cls.playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)

    @classmethod
    def tearDownClass(cls):
        cls.browser.close()
        cls.playwright.stop()

    def open(self, made=None, size=(1280, 800), hash_="", **more):
        write_wav(self.folder / "media.wav", np.asarray(tone(10.0), np.float32))
        path = self.folder / "index.html"
        path.write_text(write(made or content()), encoding="utf-8")
        context = self.browser.new_context(viewport={"width": size[0], "height": size[1]}, **more)
        self.addCleanup(context.close)
        page = context.new_page()
        self.logs = []
        page.on("console", lambda one: self.logs.append(one.text))
        page.on("pageerror", lambda error: self.logs.append(str(error)))
        page.goto(path.as_uri() + hash_)
        if more.get("java_script_enabled", True):
            self.until(page, "document.getElementById('media').readyState > 0")
        return page

    def until(self, page, expression):
        """The policy of the page lets nothing be evaluated within it, so it is asked again."""
        for _ in range(200):
            if page.evaluate(expression):
                return
            page.wait_for_timeout(25)
        self.fail(expression)

    def time(self, page):
        return page.evaluate("document.getElementById('media').currentTime")

    def lit(self, page):
        return page.evaluate("[...(CSS.highlights.get('said') || [])].map(String).join()")

    def focus(self, page):
        return page.evaluate("document.activeElement.id || document.activeElement.className")

    def tab_to(self, page, wanted, most=60):
        for _ in range(most):
            page.keyboard.press("Tab")
            if wanted in self.focus(page):
                return
        self.fail(f"the keyboard does not come to {wanted}")

    def test_a_checker_of_accessibility_finds_nothing(self):
        from axe_playwright_python.sync_playwright import Axe

        made = content(page_text(text()), page_text(text("es"), "Español"),
                       captions=(("English", "captions.en.vtt"),))  # fmt: skip
        for size in ((1280, 800), (360, 740)):
            for scheme in ("light", "dark"):
                page = self.open(made, size, color_scheme=scheme)
                page.locator("#sought").fill("moss")
                found = Axe().run(page).response["violations"]
                self.assertEqual([(one["id"], one["nodes"][0]["html"]) for one in found], [])
                wide = page.evaluate("document.documentElement.scrollWidth")
                self.assertLessEqual(wide, size[0])

    def test_a_click_on_a_word_plays_from_there_and_the_word_is_lit(self):
        page = self.open()
        self.assertTrue(page.evaluate("document.getElementById('media').textTracks[0].mode")
                        == "showing")  # fmt: skip
        box = page.evaluate(
            "(() => { const s = document.querySelectorAll('.said')[0].firstChild;"
            " const r = document.createRange(); const at = s.data.indexOf('slowly');"
            " r.setStart(s, at); r.setEnd(s, at + 6); const b = r.getBoundingClientRect();"
            " return [b.x + b.width / 2, b.y + b.height / 2]; })()"
        )
        page.mouse.click(*box)
        self.until(page, "document.getElementById('media').currentTime > 3.0")
        self.assertLess(self.time(page), 4.5)
        page.evaluate("document.getElementById('media').pause();"
                      "document.getElementById('media').currentTime = 3.35")  # fmt: skip
        page.wait_for_timeout(150)
        self.assertEqual(self.lit(page), "and")
        page.evaluate("document.getElementById('media').currentTime = 1.1")
        page.wait_for_timeout(150)
        self.assertEqual(self.lit(page), "The")
        self.assertEqual(page.locator("[aria-current]").inner_text().split()[-3:],
                         ["How", "it", "began"])  # fmt: skip
        self.assertEqual(self.logs, [])

    def test_every_act_works_by_keyboard_alone(self):
        page = self.open(content(page_text(text()), page_text(text("es", ("El musgo volvió",
                         "despacio y se quedó", "¿Estaba seco?")), "Español")),
                         permissions=["clipboard-read", "clipboard-write"])  # fmt: skip
        self.tab_to(page, "language")
        page.keyboard.press("ArrowDown")
        self.assertTrue(page.locator("section[lang=es]").is_visible())
        self.assertFalse(page.locator("section[lang=en]").is_visible())
        modes = "[...document.getElementById('media').textTracks].map((t) => t.mode)"
        self.assertEqual(page.evaluate(modes)[:2], ["disabled", "showing"])
        page.keyboard.press("ArrowUp")
        self.tab_to(page, "speaker")
        page.keyboard.press("End")
        self.assertEqual(page.locator("section[lang=en] .faded").count(), 1)
        page.keyboard.press("Home")
        self.tab_to(page, "sought")
        page.keyboard.type("was it")
        self.assertEqual(page.locator("#told").inner_text(), "Found: 1")
        page.keyboard.press("Enter")
        self.assertIn("1 of 1, at 0:06", page.locator("#told").inner_text())
        self.assertAlmostEqual(self.time(page), 6.0, delta=0.05)
        self.tab_to(page, "copy")
        page.keyboard.press("Enter")
        page.wait_for_timeout(100)
        copied = page.evaluate("navigator.clipboard.readText()")
        self.assertEqual(copied, "“Was it dry?” (Ben, Moss, 0:06)")
        self.tab_to(page, "link")
        page.keyboard.press("Enter")
        page.wait_for_timeout(100)
        self.assertTrue(page.evaluate("navigator.clipboard.readText()").endswith("#t=6.0"))
        self.tab_to(page, "time")
        page.keyboard.press("Enter")
        self.until(page, "!document.getElementById('media').paused")
        self.assertLess(self.time(page), 2.5)
        self.assertTrue(page.url.endswith("#t=1.0"))

    def test_a_link_to_a_time_leads_there(self):
        page = self.open(hash_="#t=6.2")
        self.until(page, "document.getElementById('media').currentTime > 6")
        self.assertEqual(self.lit(page), "Was")

    def test_captions_stand_over_sound_alone_and_can_be_put_away(self):
        page = self.open()
        page.evaluate("document.getElementById('media').currentTime = 3.2")
        self.until(page, "document.getElementById('line').textContent.includes('slowly')")
        self.tab_to(page, "captioned")
        page.keyboard.press("Space")
        self.assertEqual(page.locator("#line").inner_text(), "")

    def test_what_is_seen_is_read_aloud_where_that_is_wanted(self):
        """The voice of the browser is taken down, since there is none here."""
        seen = (Description(1, 1_500, "A dam"), Description(2, 5_000, EVIL))
        page = self.open(content(descriptions=seen))
        tracks = "[...document.getElementById('media').textTracks].map((t) => t.kind)"
        self.assertIn("descriptions", page.evaluate(tracks))
        page.evaluate(
            "window.said = []; speechSynthesis.speak = (one) => said.push(one.text); true"
        )
        self.tab_to(page, "aloud")
        page.keyboard.press("Space")
        page.evaluate("document.getElementById('media').currentTime = 1.2;"
                      " document.getElementById('media').play()")  # fmt: skip
        self.until(page, "window.said.length > 0")
        self.assertEqual(page.evaluate("window.said"), ["A dam"])

    def test_hostile_texts_run_nothing(self):
        made = text(words=(EVIL, "x", EVIL))
        made = Transcript("en", made.cues, (Speaker(1, EVIL), Speaker(2, "")))
        page = self.open(
            content(page_text(made, EVIL), title=EVIL, chapters=(Chapter(0, 9, EVIL),))
        )
        page.locator("#sought").fill("<img")
        page.evaluate("document.body.insertAdjacentHTML('beforeend',"
                      " '<img src=x onerror=window.hit=3>')")  # fmt: skip
        page.wait_for_timeout(200)
        self.assertIsNone(page.evaluate("window.hit ?? null"))
        self.assertIn(EVIL, page.locator(".said").first.inner_text())
        self.assertTrue(any("Content Security Policy" in told for told in self.logs))

    def test_without_a_script_and_on_paper_it_is_text(self):
        page = self.open(content(page_text(text()), page_text(text("es"), "Español")),
                         java_script_enabled=False)  # fmt: skip
        self.assertFalse(page.locator(".tools").is_visible())
        self.assertEqual(page.locator(".said:visible").count(), 4)
        page = self.open()
        page.emulate_media(media="print")
        self.assertFalse(page.locator("video").is_visible())
        self.assertTrue(page.locator(".said").first.is_visible())
