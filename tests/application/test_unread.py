"""A style, look or setting that cannot be read is told and kept."""

import json

from tamarind.application import personal
from tamarind.job.settings import JOB_LOOKS, JOB_STYLES, TEXT_SIZE
from tamarind.language.housestyle import HouseStyle
from tamarind.language.stylebook import STYLES
from tamarind.picture.lookbook import LOOKS
from tamarind.system.folders import config_home
from tests.application.support import SessionTest


class Unread(SessionTest):
    def test_a_style_of_the_job_is_told_and_goes_back_as_it_was(self):
        odd = {**json.loads(HouseStyle("Client").packed()), "captions": {"shortest": 50}}
        self.session.settings.keep(JOB_STYLES, JOB_STYLES.read(json.dumps({"client": odd})))
        self.reopen()
        told = " ".join(self.session.unread())
        self.assertIn("client", told)
        self.assertIn("shortest", told)
        self.session.styles.keep("other", HouseStyle("Other"))
        kept = json.loads(self.session.store.setting(JOB_STYLES.key))
        self.assertEqual(set(kept), {"client", "other"})
        self.assertEqual(kept["client"], odd)
        self.assertEqual(self.session.settings.get(JOB_LOOKS), {})

    def test_files_on_the_shelf_are_told(self):
        for folder, suffix in (
            (STYLES.folder, STYLES.suffix),
            (LOOKS.folder, LOOKS.suffix),
        ):
            folder.mkdir(parents=True, exist_ok=True)
            (folder / f"odd{suffix}").write_text("{}")
        told = self.session.unread()
        self.assertEqual(len(told), 3, told)
        self.assertTrue(all("odd" in one for one in told[1:]), told)

    def test_settings_are_told_and_what_was_set_for_all_jobs_is_kept_aside(self):
        self.session.store.set_setting(TEXT_SIZE.key, "huge")
        path = config_home() / personal.FILE
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text("{broken")
        told = " ".join(self.session.unread())
        self.assertIn(TEXT_SIZE.key, told)
        self.assertIn(str(path), told)
        personal.keep(personal.DARK, True)
        self.assertEqual((config_home() / personal.UNREAD).read_text(), "{broken")
        self.assertTrue(personal.read(personal.DARK))
        self.assertEqual(personal.problem(), "")
