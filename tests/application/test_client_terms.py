"""A client's names and terms travel with the house style, and are listened for."""

from dataclasses import replace
from unittest import mock

from tamarind.language.housestyle import Wording, read_style
from tamarind.language.stylebook import SHIPPED
from tamarind.speech.glossary import read_glossary
from tests.application.support import SessionTest

TERMS = ("Ishbel Penhallow", "coir = koyer", "= nothing")


def keep_client(session):
    """A client's style with terms of its own, kept in the job as "peat trust"."""
    style = replace(SHIPPED["reading"], name="Peat Trust", wording=Wording(terms=TERMS))
    style = read_style(style.packed())
    session.styles.keep("peat trust", style)
    return style


class ClientTerms(SessionTest):
    def setUp(self):
        super().setUp()
        self.key = self.named("Warden interview")
        self.style = keep_client(self.session)

    def listened_for(self):
        recording = self.session.recordings.get(self.key)
        return [term.text for term in self.session.styles.glossary_of(recording).terms]

    def test_they_are_kept_in_the_file_and_come_after_the_jobs_own(self):
        self.assertEqual(self.style.wording.terms, TERMS)
        self.session.set_glossary(read_glossary("sphagnum\nCOIR"))
        self.assertEqual(self.listened_for(), ["sphagnum", "COIR"])
        self.session.styles.choose([self.key], "peat trust")
        self.assertEqual(self.listened_for(), ["sphagnum", "COIR", "Ishbel Penhallow"])

    def test_whatever_is_heard_of_such_a_recording_listens_for_them(self):
        self.session.styles.choose([self.key], "peat trust")
        how = self.session.recordings.get(self.key).how
        with mock.patch.object(self.session.on_demand._pool, "add") as added:
            self.session.on_demand.hear_again(self.key, (0, 5_000), how)
        heard_for = added.call_args.args[0].how.glossary
        self.assertIn("Ishbel Penhallow", [term.text for term in heard_for.terms])
