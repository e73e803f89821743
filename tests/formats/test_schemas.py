"""The published schemas are those of what is read and written."""

import json
import unittest
from dataclasses import fields
from pathlib import Path

import jsonschema

from tamarind.captions.limits import Limits
from tamarind.formats.data import everything
from tamarind.formats.reading.paragraphs import TextOptions
from tamarind.language.housestyle import (
    HouseStyle,
    StyleError,
    Wording,
    read_style,
)
from tamarind.language.stylebook import SHIPPED
from tamarind.picture import lookbook
from tests.support import moor
from tests.transcript.test_codec import UNUSUAL

TOP = Path(__file__).parents[2]


class Schemas(unittest.TestCase):
    def setUp(self):
        self.folder = TOP / "docs" / "schemas"
        self.transcript, self.style, self.look = (
            json.loads((self.folder / f"{name}.schema.json").read_text("utf-8"))
            for name in ("transcript", "house-style", "look")
        )

    def test_they_ship_and_are_schemas(self):
        for path in self.folder.glob("*.json"):
            text = path.read_text("utf-8")
            shipped = TOP / "src" / "tamarind" / "shipped" / "schemas" / path.name
            self.assertEqual(shipped.read_text("utf-8"), text)
            jsonschema.Draft202012Validator.check_schema(json.loads(text))

    def test_what_is_written_is_valid(self):
        text = moor()
        unusual = everything.write(text.__class__("en", (UNUSUAL,)), "a.wav", 9_000)
        for written in (
            unusual,
            everything.write(text, "a.wav", 9_000, {"es": [None] * len(text.cues)}),
        ):
            jsonschema.validate(json.loads(written), self.transcript)
        for style in SHIPPED.values():
            jsonschema.validate(json.loads(style.packed()), self.style)
        for look in lookbook.SHIPPED.values():
            jsonschema.validate(json.loads(look.packed()), self.look)

    def test_what_is_not_valid_is_refused_in_a_sentence(self):
        plain = json.loads(HouseStyle("Moor").packed())
        for change in (
            {"name": " "},
            {"version": 99},
            {"captions": {"line_length": 3}},
            {"captions": {"no such rule": 3}},
            {"wording": {"numbers": "roman"}},
            {"checks": {"length": "perhaps"}},
            {"transcript": []},
        ):
            wrong = plain | change
            with self.assertRaises(jsonschema.ValidationError):
                jsonschema.validate(wrong, self.style)
            with self.assertRaises(StyleError) as caught:
                read_style(json.dumps(wrong))
            self.assertTrue(str(caught.exception).endswith("."))

    def test_every_field_may_be_missing(self):
        whole = json.loads(HouseStyle("Moor").packed())
        for part in ("captions", "transcript", "wording", "checks"):
            less = {key: value for key, value in whole.items() if key != part}
            self.assertEqual(read_style(json.dumps(less)), HouseStyle("Moor"))
            for key in whole[part]:
                rest = {name: value for name, value in whole[part].items() if name != key}
                self.assertEqual(read_style(json.dumps(whole | {part: rest})), HouseStyle("Moor"))
        for needed in ("format", "version", "name"):
            less = {key: value for key, value in whole.items() if key != needed}
            self.assertRaises(StyleError, read_style, json.dumps(less))

    def test_every_rule_has_its_place(self):
        for part, kind in (("captions", Limits), ("transcript", TextOptions), ("wording", Wording)):
            known = self.style["properties"][part]["properties"]
            self.assertEqual(set(known), {one.name for one in fields(kind)}, part)
