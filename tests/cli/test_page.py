"""A page to publish by command: of a recording with caption files, and of a job."""

from tests.cli.support import CommandTest
from tests.support import DEMO

LECTURE = DEMO / "media" / "Water table lecture.mp4"


class Page(CommandTest):
    def captions(self, name, said):
        path = self.folder / name
        path.write_text(f"WEBVTT\n\n00:01.000 --> 00:04.000\n<v Ann>{said}</v>\n")
        return path

    def test_of_a_recording_with_captions_in_two_languages(self):
        out = self.folder / "page"
        given = ("page", LECTURE, "--captions", self.captions("a.en.vtt", "The moss"),
                 "--captions", self.captions("a.es.vtt", "El musgo"), "-o", out)  # fmt: skip
        self.assertEqual(self.run_command(*given)[0], 0)
        page = (out / "index.html").read_text()
        self.assertIn("<title>Water table lecture</title>", page)
        self.assertIn("The moss", page)
        self.assertIn("El musgo", page)
        status, _, told = self.run_command(*given)
        self.assertEqual(status, 3)
        self.assertIn("already exists", told)
        self.assertEqual(self.run_command(*given, "--overwrite", "--title", "Moss")[0], 0)
        self.assertIn("<title>Moss</title>", (out / "index.html").read_text())

    def test_of_a_job_each_recording_has_its_own(self):
        job = self.folder / "job.tamarind"
        job.write_bytes(next(DEMO.glob("*.tamarind")).read_bytes())
        (self.folder / "media").symlink_to(DEMO / "media")
        out = self.folder / "pages"
        self.assertEqual(self.run_command("page", job, "-o", out, "--single")[0], 0)
        names = sorted(path.name for path in out.iterdir())
        self.assertEqual(names, ["Neighbour, in Italian.html", "Site memo, north drain.html",
                                 "Warden interview.html", "Water table lecture"])  # fmt: skip
        self.assertTrue((out / "Water table lecture" / "media.mp4").exists())

    def test_wrong_use_is_told(self):
        out = self.folder / "page"
        self.assertEqual(self.run_command("page", LECTURE, "-o", out)[0], 2)
        captions = self.captions("a.vtt", "The moss")
        self.assertEqual(self.run_command("page", LECTURE, "--captions", self.folder / "none.vtt",
                                          "-o", out)[0], 2)  # fmt: skip
        gone = self.folder / "gone.mp4"
        self.assertEqual(self.run_command("page", gone, "--captions", captions, "-o", out)[0], 3)
        self.assertEqual(self.run_command("page", LECTURE, "--captions", captions, "--single",
                                          "-o", out)[0], 3)  # fmt: skip
