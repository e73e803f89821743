"""A job that travels: packed, checked, opened elsewhere the same, and nothing left that was not
to go along."""

import json
import shutil
import zipfile
from dataclasses import replace
from pathlib import Path
from unittest import mock

from tamarind.batch.elsewhere import CancelledError, make_elsewhere
from tamarind.job import packing
from tamarind.job.demo import demo_job
from tamarind.job.jobfile import JobError
from tamarind.job.packing import LIST, PackOrder, unpack
from tamarind.job.settings import EXPORT_FOLDER, EXPORT_TEMPLATES
from tamarind.job.store import JobStore, KeptStep
from tamarind.speech.diarisation.voiceprint import WIDTH, Voiceprint
from tests.support import FolderTest, tone, write_wav


class Packing(FolderTest):
    def setUp(self):
        super().setUp()
        self.job = demo_job()
        self.packed = self.folder / "Moor.tamarind.zip"
        self.elsewhere = self.folder / "elsewhere"
        self.elsewhere.mkdir()

    def travelled(self, **options):
        """Return the job, packed and unpacked with the original out of reach."""
        PackOrder(self.job, self.packed, **options).fill()
        away = self.job.parent.rename(self.folder / "away")
        try:
            return unpack(self.packed, self.elsewhere)
        finally:
            away.rename(self.job.parent)

    def all_of(self, job):
        store = JobStore(job)
        try:
            recordings = store.recordings()
            return (
                recordings,
                [store.document(one.id) for one in recordings],
                [store.draft(one.id) for one in recordings],
                [(step, store.step_change(step.number)) for step in store.steps()],
                store.settings(),
            )
        finally:
            store.close()

    def test_it_opens_elsewhere_with_everything_in_it(self):
        store = JobStore(self.job)
        first = store.recordings()[0]
        store.save_steps([KeptStep(1, first.id, "Split cue", False, change=b"kept")], ())
        store.set_setting(EXPORT_FOLDER.key, "/home/somebody")
        store.close()
        before = self.all_of(self.job)
        told = []
        PackOrder(self.job, self.packed).fill(told.append)
        self.assertEqual(told, sorted(told))
        self.assertEqual(told[-1], 1.0)
        self.assertEqual(self.all_of(self.job), before)
        job = self.travelled()
        after = self.all_of(job)
        self.assertEqual(after[1:4], before[1:4])
        self.assertEqual(after[4] | {EXPORT_FOLDER.key: ""}, after[4])
        for was, now in zip(before[0], after[0], strict=True):
            self.assertEqual(now.path.parent, job.parent / "recordings")
            self.assertEqual(now.path.read_bytes(), was.path.read_bytes())
            self.assertEqual(now.fingerprint, was.fingerprint)

    def test_it_is_packed_while_it_is_open_and_being_written(self):
        store = JobStore(self.job)
        store.set_setting("note", "meanwhile")
        job = self.travelled(recordings=False)
        store.close()
        self.assertEqual(self.all_of(job)[4]["note"], "meanwhile")

    def test_what_was_not_to_go_along_is_nowhere_in_the_file(self):
        store = JobStore(self.job)
        names = {
            speaker.name
            for one in store.recordings()
            for speaker in store.document(one.id).transcript.speakers
            if speaker.name
        }
        first = store.recordings()[0]
        store.save_recording(replace(first, voices=(Voiceprint.of(1, bytes(WIDTH * 2)),)))
        said = f"named {sorted(names)[0]}".encode()
        store.save_steps([KeptStep(1, first.id, "Name speaker", False, change=said)], ())
        store.close()
        self.assertTrue(names)
        job = self.travelled(recordings=False, drafts=False, names=False)
        recordings, documents, drafts, steps, _ = self.all_of(job)
        self.assertFalse(any(drafts) or steps or any(one.voices for one in recordings))
        self.assertEqual({s.name for d in documents for s in d.transcript.speakers}, {""})
        self.assertTrue(any(d.transcript.cues for d in documents))
        data = job.read_bytes()
        self.assertNotIn(said, data)
        self.assertFalse((job.parent / "recordings").exists())
        self.assertNotIn(str(self.folder).encode(), data)

    def test_files_of_one_name_and_clients_documents_go_along(self):
        store = JobStore(self.job)
        first, second = store.recordings()[:2]
        twin = self.folder / first.path.name.upper()
        shutil.copyfile(second.path, twin)
        store.add_recording(twin)
        document = self.folder / "letter.docx"
        document.write_bytes(b"a client's")
        store.set_setting(EXPORT_TEMPLATES.key, EXPORT_TEMPLATES.write({"docx": str(document)}))
        store.close()
        job = self.travelled()
        recordings, *_, settings = self.all_of(job)
        self.assertEqual(recordings[-1].path.read_bytes(), twin.read_bytes())
        self.assertEqual(recordings[0].path.read_bytes(), first.path.read_bytes())
        kept = EXPORT_TEMPLATES.of(settings[EXPORT_TEMPLATES.key])
        self.assertEqual((job.parent / kept["docx"]).read_bytes(), b"a client's")
        # Packed again from where it is now.
        PackOrder(job, self.folder / "again.zip").fill()
        again = unpack(self.folder / "again.zip", self.folder)
        self.assertEqual((again.parent / kept["docx"]).read_bytes(), b"a client's")

    def test_a_recording_that_is_gone_is_told_and_an_older_file_stays(self):
        self.packed.write_bytes(b"older")
        store = JobStore(self.job)
        gone = store.recordings()[0].path
        store.close()
        gone.unlink()
        with self.assertRaisesRegex(JobError, f"Not found: {gone.name}"):
            PackOrder(self.job, self.packed).fill()
        self.assertEqual(self.packed.read_bytes(), b"older")
        PackOrder(self.job, self.packed, recordings=False).fill()
        self.assertEqual([one.name for one in self.folder.glob(".tamarind-*")], [])

    def test_a_second_unpacking_gets_a_folder_of_its_own(self):
        first = self.travelled(recordings=False)
        second = unpack(self.packed, self.elsewhere)
        self.assertEqual(second.parent.name, f"{first.parent.name} 2")

    def test_what_is_cancelled_leaves_nothing(self):
        PackOrder(self.job, self.packed).fill()

        def cancel(share):
            if share > 0.5:
                raise ZeroDivisionError

        with self.assertRaises(ZeroDivisionError):
            unpack(self.packed, self.elsewhere, cancel)
        with self.assertRaises(ZeroDivisionError):
            PackOrder(self.job, self.elsewhere / "other.zip").fill(cancel)
        self.assertEqual([*self.elsewhere.iterdir()], [])

    def changed(self, change):
        """Return a packed job whose parts, by name, were changed."""
        PackOrder(self.job, self.packed, recordings=False).fill()
        with zipfile.ZipFile(self.packed) as archive:
            parts = {name: archive.read(name) for name in archive.namelist()}
        change(parts)
        with zipfile.ZipFile(self.packed, "w") as archive:
            for name, data in parts.items():
                archive.writestr(name, data)
        return self.packed

    def assert_refused(self, packed, sentence):
        with self.assertRaisesRegex(JobError, sentence):
            unpack(packed, self.elsewhere)
        self.assertEqual([*self.elsewhere.iterdir()], [])

    def test_what_was_changed_on_the_way_is_refused_and_leaves_nothing(self):
        name = self.job.name

        def other_byte(parts):
            data = bytearray(parts[name])
            data[5_000] ^= 1
            parts[name] = bytes(data)

        def with_list(old, new):
            def change(parts):
                parts[LIST] = parts[LIST].replace(old.encode(), new.encode())

            return change

        def climbs(parts):
            parts["../../evil.tamarind"] = parts.pop(name)
            listed = json.loads(parts[LIST])
            listed["files"][0]["name"] = "../../evil.tamarind"
            parts[LIST] = json.dumps(listed).encode()

        cases = (
            (other_byte, "checksum differs"),
            (lambda parts: parts.pop(name), "does not hold"),
            (lambda parts: parts.update(more=b"x"), "does not hold"),
            (lambda parts: parts.pop(LIST), "is not a packed"),
            (with_list('"version": 1', '"version": 9'), "newer Tamarind"),
            (with_list('"files"', '"parts"'), "is not a packed"),
            (climbs, "is not a packed"),
        )
        for change, sentence in cases:
            with self.subTest(sentence):
                self.assert_refused(self.changed(change), sentence)

    def test_what_another_program_packed_anew_opens(self):
        packed = self.changed(lambda parts: parts.update({"recordings/": b""}))
        self.assertTrue(unpack(packed, self.elsewhere).is_file())

    def test_packing_that_is_cancelled_elsewhere_leaves_nothing(self):
        long = write_wav(self.folder / "long.wav", tone(3_000))
        store = JobStore(self.job)
        store.add_recording(long)
        store.close()
        shares, target = [], self.elsewhere / "long.zip"
        with (
            mock.patch.dict("os.environ", TMPDIR=str(self.elsewhere)),
            self.assertRaises(CancelledError),
        ):
            make_elsewhere(PackOrder(self.job, target), shares.append, lambda: not shares)
        self.assertTrue(0 < shares[0] < 1)
        self.assertEqual([*self.elsewhere.iterdir()], [])

    def test_broken_files_and_full_disks_are_told(self):
        self.packed.write_bytes(b"no zip")
        self.assert_refused(self.packed, "is damaged")
        PackOrder(self.job, self.packed, recordings=False).fill()
        whole = self.packed.read_bytes()
        self.packed.write_bytes(whole[: len(whole) // 2])
        self.assert_refused(self.packed, "is damaged")
        self.packed.write_bytes(whole[:200] + bytes([whole[200] ^ 255]) + whole[201:])
        self.assert_refused(self.packed, "damaged")
        self.packed.write_bytes(whole)
        full = mock.Mock(return_value=mock.Mock(free=1_000))
        with mock.patch.object(packing.shutil, "disk_usage", full):
            self.assert_refused(self.packed, "needs .* MB")
        self.assert_refused(self.folder / "nowhere.zip", "No such file")

    def test_names_that_are_hard_for_others_become_plain(self):
        store = JobStore(self.job)
        odd = Path(str(self.folder / ("peat\n" + "é" * 110)) + ".wav")
        shutil.copyfile(store.recordings()[0].path, odd)
        store.add_recording(odd)
        store.close()
        job = self.travelled()
        last = self.all_of(job)[0][-1]
        self.assertTrue(last.path.is_file())
        self.assertTrue(last.path.name.startswith("peat_"))
