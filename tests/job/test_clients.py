"""Clients as files, and what is delivered to them."""

from dataclasses import replace
from datetime import datetime

from tamarind.job.client import CLIENTS, Client, ClientError, Delivery, read_client, take_in
from tamarind.job.delivered import digest_of
from tamarind.job.delivery import ToDeliver, deliver, parcels
from tamarind.job.document import Document
from tamarind.job.recording import Recording, State
from tamarind.language.stylebook import SHIPPED, STYLES
from tamarind.picture.lookbook import SHIPPED as LOOKS
from tamarind.transcript.model import Speaker, Transcript
from tamarind.translation.tracks import Track, with_texts
from tests.support import FolderTest, cue

WHEN = datetime(2026, 12, 2, 10, 30)


class ClientTest(FolderTest):
    def client(self, **wanted):
        style = replace(SHIPPED["reading"], name="Trust rules")
        return Client("Marsh Trust", style, LOOKS["birch"], Delivery(**wanted))

    def work(self, number, *cues, state=State.DRAFT, **others):
        path = self.folder / f"Bog {number}.wav"
        recording = Recording(number, path, duration=60_000, state=state)
        text = Transcript("en", cues, (Speaker(1, "Ann"), Speaker(2, "")))
        return ToDeliver(recording, Document(text, **others), SHIPPED["reading"], LOOKS["birch"])


class Files(ClientTest):
    def test_a_client_is_complete_in_its_file(self):
        client = self.client(documents=("odt", "srt"), translations=("es",), names="{client}")
        self.assertEqual(read_client(client.packed()), client)

    def test_what_is_not_known_is_told_and_nothing_is_taken(self):
        good = self.client().packed()
        for old, new in (
            ('"docx"', '"pages"'), ('"utf-8"', '"klingon"'), ('"crlf": false', '"crlf": 3'),
            ("Marsh Trust", " "), ("tamarind-client", "tamarind-look"),
            ('"templates": []', '"templates": [{"name": "a.docx", "data": "AAAA"}]'),
            ('"spoken": []', '"spoken": ["xx-none"]'),
        ):  # fmt: skip
            with self.subTest(new=new):
                self.assertIn(old, good)
                self.assertRaises(ClientError, read_client, good.replace(old, new))

    def test_styles_come_along_and_replace_none_of_the_persons_own(self):
        mine = replace(SHIPPED["verbatim"], name="Trust rules")
        STYLES.keep(mine)
        taken = take_in(self.client())
        self.assertEqual(taken.style.name, "Trust rules, Marsh Trust")
        self.assertEqual(STYLES.find("Trust rules"), mine)
        self.assertEqual(STYLES.find("Trust rules, Marsh Trust"), taken.style)
        self.assertEqual(CLIENTS.find("marsh trust").as_kept(), taken)

    def test_a_style_that_is_edited_is_the_clients_too(self):
        client = take_in(self.client())
        edited = replace(client.style, levels={})
        STYLES.keep(edited)
        self.assertEqual(CLIENTS.find("Marsh Trust").as_kept().style, edited)


class Delivered(ClientTest):
    def test_each_client_gets_a_folder_with_all_that_it_wants_and_a_list(self):
        other = Client("Water: Board", SHIPPED["teletext"], None, Delivery(("srt",), tells=False))
        trust = self.client(documents=("txt", "srt"), names="{client} {recording} {date}")
        works = [
            self.work(1, cue(1, "Um, we dug 3 drains.", 0)), self.work(2, cue(1, "Water.", 0)),
            self.work(3, cue(1, "Nobody's.", 0)),
        ]  # fmt: skip
        found = parcels(works, {1: trust, 2: other, 3: None})
        for parcel in found:
            made = deliver(parcel, self.folder, WHEN)
            self.assertEqual(made.failed, ())
        names = {str(path.relative_to(self.folder)) for path in self.folder.rglob("*.*")}
        self.assertEqual(
            names,
            {
                "Marsh Trust/Marsh Trust Bog 1 2026-12-02.srt",
                "Marsh Trust/Marsh Trust Bog 1 2026-12-02.txt",
                "Marsh Trust/checks.txt", "Water- Board/Bog 2.srt",
            },
        )  # fmt: skip
        told = (self.folder / "Marsh Trust" / "checks.txt").read_text()
        self.assertIn("Bog 1: ", told)
        self.assertIn("number against the style", told)

    def test_what_is_missing_is_said_and_counts_as_not_delivered(self):
        empty = self.work(1)
        text = cue(1, "We dug.", 0), cue(2, "Deep.", 4_000, speaker=2)
        half = self.work(2, *text, tracks=(with_texts(Track("es"), text[:1], ("Cavamos.",)),))
        (parcel,) = parcels([empty, half], dict.fromkeys((1, 2), self.client(translations=("es",))))
        self.assertEqual(
            parcel.left_to_do(),
            [
                "Bog 1: has no text yet, and is left out.",
                "Bog 2: 1 cue is not translated into Spanish.", "Bog 2: Speaker 2 has no name yet.",
            ],
        )  # fmt: skip
        made = deliver(parcel, self.folder, WHEN)
        self.assertEqual(list(made.delivered), [2])

    def test_a_change_after_delivery_is_known_and_its_undoing_too(self):
        document = self.work(1, cue(1, "We dug.", 0)).document
        before = digest_of(document)
        for text in (
            Transcript("en", (cue(1, "We dig.", 0),), document.transcript.speakers),
            Transcript("en", (cue(1, "We dug.", 40),), document.transcript.speakers),
            Transcript("en", document.transcript.cues, (Speaker(1, "Anne"), Speaker(2, ""))),
        ):
            self.assertNotEqual(digest_of(document.with_transcript(text)), before)
        again = Transcript("en", (cue(1, "We dug.", 0),), document.transcript.speakers)
        self.assertEqual(digest_of(Document(again)), before)

    def test_a_file_that_cannot_be_written_is_told_and_the_others_are(self):
        (parcel,) = parcels([self.work(1, cue(1, "We dug.", 0))], {1: self.client()})
        (self.folder / "Marsh Trust" / "Bog 1.docx").mkdir(parents=True)
        made = deliver(parcel, self.folder, WHEN)
        self.assertEqual(len(made.failed), 1)
        self.assertIn("Bog 1.docx", made.failed[0])
        self.assertEqual([path.name for path in made.files], ["Bog 1.srt", "checks.txt"])
        self.assertEqual(made.delivered, {})
