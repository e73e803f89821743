"""Handed out and taken back: what is damaged on the way is told, and all else lands right."""

import random
import unittest
from dataclasses import replace

from tamarind.formats.captionfile import FormatError
from tamarind.formats.captions import srt
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.translation.exchange import tmx
from tamarind.translation.exchange.handing import (
    as_lines,
    as_table,
    as_xliff,
    from_captions,
    from_lines,
    from_table,
    from_xliff,
    rows_of,
)
from tamarind.translation.exchange.returned import Returned, fitted
from tamarind.translation.tracks import Track, as_transcript, with_texts

WORDS = "water moss drain winter dam heron level autumn gate hill stone path bird rain wood".split()


def long_text(count=100):
    """Cues of four to nine words, with pauses, and a translation of each."""
    chance = random.Random(8)
    cues, texts, at = [], [], 1_000
    for number in range(1, count + 1):
        said = chance.choices(WORDS, k=chance.randint(4, 9))
        words = tuple(Word(word, at + n * 250, at + n * 250 + 240) for n, word in enumerate(said))
        cues.append(Cue(number, at, words[-1].end, words))
        texts.append(" ".join(word[::-1] for word in said))
        at = words[-1].end + chance.choice((100, 400, 1_500))
    text = Transcript("en", tuple(cues))
    return text, with_texts(Track("pt"), cues, texts)


class Back(unittest.TestCase):
    def setUp(self):
        self.text, self.track = long_text()
        self.rows = rows_of(self.text, self.track)
        self.good = {cue.id: self.track.text(cue.id) for cue in self.text.cues}

    def check(self, returned, touched=()):
        """All that was not touched is where it was."""
        found = fitted(self.text.cues, returned, "pt")
        for cue in self.text.cues:
            if cue.id not in touched:
                self.assertEqual(found.texts.get(cue.id), self.good[cue.id], cue.id)
        return found

    def captions(self):
        return from_captions(srt.read(srt.write(as_transcript(self.track, self.text)), "pt"))

    def test_untouched_all_of_it_comes_back_by_every_way(self):
        lines = as_lines(self.rows, translated=True)
        table, xliff = as_table(self.rows), as_xliff(self.rows, "en", "pt", "Memo")
        ways = (from_lines(lines), from_table(table), from_xliff(xliff), self.captions())
        for returned in ways:
            found = self.check(returned)
            self.assertEqual((found.left_out, found.missing, found.changed), ([], [], []))

    def test_a_tenth_is_lost_merged_or_retimed(self):
        chance = random.Random(3)
        for way in (self.captions(), from_xliff(as_xliff(self.rows, "en", "pt", "Memo"))):
            places = sorted(chance.sample(range(0, 98, 3), 12), reverse=True)
            touched = set()
            for number, place in enumerate(places):
                one, other = way[place : place + 2]
                if number % 3 == 0:
                    del way[place]
                    touched.add(place + 1)
                elif number % 3 == 1:
                    merged = Returned(
                        f"{one.text} {other.text}", one.number,
                        f"{one.source} {other.source}".strip(), one.start, other.end,
                    )  # fmt: skip
                    way[place : place + 2] = [merged]
                    touched |= {place + 1, place + 2}
                else:
                    way[place] = Returned(
                        one.text, one.number, one.source, one.start + 1_800, one.end + 1_800
                    )
            renumbered = [
                Returned(row.text, number, row.source, row.start, row.end)
                for number, row in enumerate(way, 1)
            ]
            found = self.check(renumbered, touched)
            self.assertEqual(len(found.missing), 4)
            self.assertEqual(len(found.changed), 4)
            for cue_id in touched - {place + 1 for place in found.missing}:
                self.assertTrue(found.texts[cue_id])

    def test_what_belongs_nowhere_is_told(self):
        stranger = Returned("Obrigado por assistir!", None, "", 9_000_000, 9_002_000)
        found = self.check([*self.captions(), stranger])
        self.assertEqual(found.left_out, ["“Obrigado por assistir!”"])

    def test_a_caption_that_was_split_is_one_again(self):
        rows = self.captions()
        row = rows[40]
        words, middle = row.text.split(), (row.start + row.end) // 2
        rows[40:41] = [
            Returned(" ".join(words[:2]), 41, "", row.start, middle),
            Returned(" ".join(words[2:]), 42, "", middle, row.end),
        ]
        self.assertEqual(len(self.check(rows).changed), 1)

    def test_lines_as_people_paste_them(self):
        pasted = "1) Um\n\n2: dois\n   e mais\n3\ttrês\nquatro sem número"
        found = from_lines(pasted)
        self.assertEqual(
            [(one.number, one.text) for one in found],
            [(1, "Um"), (2, "dois e mais"), (3, "três quatro sem número")],
        )

    def test_a_table_from_a_spreadsheet_with_semicolons_and_other_columns(self):
        found = from_table("Translation;Number;Remark\n'-sim;7;x\nNão;8;\n")
        self.assertEqual([(r.number, r.text) for r in found], [(7, "-sim"), (8, "Não")])

    def test_a_table_in_any_order_lands_by_its_keys(self):
        head, *lines = as_table(self.rows).splitlines()
        by_text = sorted(lines, key=lambda line: line.split(",")[4])
        swapped = [lines[1], lines[0], *lines[2:]]
        random.Random(3).shuffle(lines)
        for rows in (by_text, swapped, lines):
            found = self.check(from_table("\n".join([head, *rows]) + "\n"))
            self.assertEqual((found.left_out, found.changed, found.missing), ([], [], []))

    def test_in_another_order_with_some_gone_nothing_lands_elsewhere(self):
        head, *lines = as_table(self.rows).splitlines()
        random.Random(4).shuffle(lines)
        found = fitted(self.text.cues, from_table("\n".join([head, *lines[:70]])), "pt")
        self.assertEqual(len(found.texts), 70)
        for number, text in found.texts.items():
            self.assertEqual(text, self.good[number])

    def test_cells_as_people_and_spreadsheets_leave_them(self):
        found = from_table(
            "number,start,end,source,translation\n"
            "1,75:03.5,75:04,a,'Tis dry\n2,0:01,0:02,b,\"two\nlines\"\n3,0:03,0:04,'=c,'=d\n"
        )
        self.assertEqual(found[0].start, 4_503_500)
        self.assertEqual([one.text for one in found], ["'Tis dry", "two\nlines", "=d"])
        self.assertEqual(found[2].source, "=c")

    def test_codes_of_other_programs_are_no_words_of_a_memory(self):
        memory = tmx.write({"Wet moss": "Musgo"}, "en", "pt").replace(
            "Wet moss", '<bpt i="1">&lt;b&gt;</bpt>Wet<ept i="1">&lt;/b&gt;</ept> <hi>moss</hi>'
        )
        self.assertEqual(tmx.read(memory, "en", "pt"), {"Wet moss": "Musgo"})

    def test_lines_without_numbers_are_taken_only_if_there_are_as_many(self):
        plain = "".join(f"{text}\n" for text in self.good.values())
        rows = [Returned(line) for line in plain.splitlines()]
        self.check(rows)
        found = fitted(self.text.cues, rows[:-1], "pt")
        self.assertEqual((found.texts, len(found.left_out)), ({}, 99))

    def test_files_that_are_none_say_so(self):
        with self.assertRaisesRegex(FormatError, "no column"):
            from_table("a,b\n1,2\n")
        for text, reason in (
            ("<xliff", "damaged"),
            ("<html/>", "no XLIFF"),
            ("<!DOCTYPE x><xliff/>", "document type"),
        ):
            with self.assertRaisesRegex(FormatError, reason):
                from_xliff(text)

    def test_a_memory_goes_out_and_comes_back(self):
        pairs = {"It was dry & “wet”.": "Seco <e> molhado.", "Yes.": "Sim."}
        self.assertEqual(tmx.read(tmx.write(pairs, "en", "pt"), "en-GB", "pt-BR"), pairs)
        self.assertEqual(tmx.read(tmx.write(pairs, "en", "pt"), "en", "es"), {})
        for text, reason in (("<tmx", "damaged"), ("<html/>", "no TMX"),
                             ("<!DOCTYPE x [<!ENTITY a 'b'>]><tmx/>", "entities")):  # fmt: skip
            with self.assertRaisesRegex(FormatError, reason):
                tmx.read(text, "en", "pt")

    def test_a_long_file_with_a_line_lost_and_numbered_anew(self):
        self.text, self.track = long_text(1_000)
        self.good = {cue.id: self.track.text(cue.id) for cue in self.text.cues}
        rows = self.captions()
        del rows[500]
        rows = [replace(row, number=number) for number, row in enumerate(rows, 1)]
        self.assertEqual(self.check(rows, {501}).missing, [500])
