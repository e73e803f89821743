"""Models for translation: what a folder or a zip file has, and networks of both formats run."""

import multiprocessing
import os
import shutil
import unittest
import zipfile
from unittest import mock

import numpy as np

from tamarind.translation.engines import carried, shelf
from tamarind.translation.engines.base import TranslationError
from tamarind.translation.engines.catalogue import look_again, router
from tamarind.translation.engines.modelfolder import ModelKind, look_into, unpack
from tamarind.translation.engines.neural import NeuralEngine
from tests.support import FolderTest
from tests.translation.ending import translate

PEOPLE = ("The water came back to the moor.", "Peat is made of moss.", "We dug no more drains.")


class Folders(FolderTest):
    def model(self, name="x", **files):
        folder = self.folder / name
        folder.mkdir(parents=True)
        for file in files or {"model.enpt.intgemm.alphas.bin": b"", "vocab.enpt.spm": b""}:
            path = folder / file
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes((files or {}).get(file, b"x"))
        return folder

    def refused(self, folder):
        with self.assertRaises(TranslationError) as caught:
            look_into(folder)
        return str(caught.exception)

    def test_the_languages_are_told_by_the_files_the_description_or_the_folder(self):
        small = self.model(
            **{
                "model.enzh-Hant.intgemm.bin": b"",
                "srcvocab.enzh.spm": b"",
                "trgvocab.enzh.spm": b"",
                "lex.50.bin": b"",
            }
        )
        found = look_into(small)
        self.assertEqual(
            (found.kind, found.source, found.target), (ModelKind.SMALL, "en", "zh-Hant")
        )
        self.assertEqual(found.shortlist.name, "lex.50.bin")
        self.assertNotEqual(found.source_vocabulary, found.target_vocabulary)
        files = {"model/model.bin": b"", "model/config.json": b"{}", "sentencepiece.model": b""}
        told = self.model(
            "pack", **files, **{"metadata.json": b'{"from_code": "de", "to_code": "en"}'}
        )
        self.assertEqual((look_into(told).source, look_into(told).target), ("de", "en"))
        named = self.model("opus-en_fr-2", **files)
        found = look_into(named)
        self.assertEqual(
            (found.kind, found.source, found.target), (ModelKind.CONVERTED, "en", "fr")
        )

    def test_what_is_no_model_says_what_is_missing(self):
        self.assertIn("no model", self.refused(self.model("a", **{"x.txt": b""})))
        self.assertIn("no vocabulary", self.refused(self.model("b", **{"model.enpt.bin": b""})))
        files = {"model.bin": b"", "config.json": b"{}"}
        self.assertIn("SentencePiece", self.refused(self.model("c", **files)))
        nameless = self.model("mine", **files, **{"source.spm": b"", "target.spm": b""})
        self.assertIn("such as en-pt", self.refused(nameless))
        self.assertIn("cannot be read", self.refused(self.folder / "gone"))

    def test_a_zip_file_is_unpacked_once_and_a_bad_one_leaves_nothing(self):
        folder = self.model("en-pt")
        packed = self.folder / "handed around.zip"
        with zipfile.ZipFile(packed, "w") as file:
            for path in folder.iterdir():
                file.write(path, f"en-pt/{path.name}")
        home = self.folder / "home"
        self.assertEqual(look_into(unpack(packed, home)).source, "en")
        with self.assertRaisesRegex(TranslationError, "already"):
            unpack(packed, home)
        for name, content in (("../out.txt", b""), ("readme.txt", b"")):
            with zipfile.ZipFile(packed, "w") as file:
                file.writestr(name, content)
            with self.assertRaises(TranslationError):
                unpack(packed, home)
        packed.write_bytes(b"PK no zip file")
        with self.assertRaisesRegex(TranslationError, "damaged"):
            unpack(packed, home)
        self.assertEqual([path.name for path in home.iterdir()], ["en-pt"])
        self.assertFalse((self.folder / "out.txt").exists())

    def test_a_folder_is_taken_listed_and_forgotten(self):
        self.addCleanup(look_again)
        folder = self.model("en-ja")
        (folder / "model.enpt.intgemm.alphas.bin").rename(folder / "model.enja.bin")
        shelf.add(folder)
        look_again()
        self.assertIn("ja", router().targets("en"))
        self.assertEqual(router().routes("en", "ja")[0].described, "directly, by the model en-ja")
        everybody = self.folder / "all"
        everybody.mkdir()
        folder.rename(everybody / "en-ja")
        self.assertEqual(shelf.models(), [])
        with mock.patch.dict(os.environ, {shelf.FOLDERS_VARIABLE: str(everybody)}):
            self.assertEqual([model.target for model in shelf.models()], ["ja"])


class Running(FolderTest):
    def test_a_model_that_cannot_be_loaded_is_a_sentence(self):
        folder = self.folder / "en-pt"
        folder.mkdir()
        for name in ("model.enpt.bin", "vocab.enpt.spm"):
            (folder / name).write_bytes(b"nothing like it")
        engine = NeuralEngine("mine", "mine", [look_into(folder)])
        with self.assertRaisesRegex(TranslationError, "cannot be used"):
            engine.translate(["peat"], "en", "pt")

    @unittest.skipUnless(carried.models(), "the models are not installed")
    def test_weights_that_are_not_what_they_were_are_refused(self):
        (model,) = (one for one in carried.models() if one.source == "en")
        copy = self.folder / "copy"
        shutil.copytree(model.folder, copy)
        with (copy / model.model.name).open("r+b") as file:
            file.seek(1_000_000)
            file.write(b"other")
        engine = NeuralEngine("mine", "mine", [look_into(copy)])
        with self.assertRaisesRegex(TranslationError, "damaged; install it again"):
            engine.translate(["peat"], "en", "pt")

    @unittest.skipUnless(carried.models(), "the models are not installed")
    def test_a_process_that_has_translated_ends(self):
        for until_done in (True, False):
            spawning = multiprocessing.get_context("spawn")
            process = spawning.Process(target=translate, args=(until_done,))
            process.start()
            process.join(60)
            self.assertEqual(process.exitcode, 0)

    def test_a_converted_model_translates(self):
        from ctranslate2.specs import TransformerSpec
        from sentencepiece import SentencePieceTrainer

        folder = self.folder / "en-pt"
        folder.mkdir()
        text = self.folder / "text.txt"
        text.write_text("\n".join(PEOPLE * 20))
        SentencePieceTrainer.train(
            input=str(text), model_prefix=str(folder / "source"), vocab_size=60,
            hard_vocab_limit=False, minloglevel=2,
        )  # fmt: skip
        shutil.copyfile(folder / "source.model", folder / "target.model")
        pieces = [
            line.split("\t")[0] for line in (folder / "source.vocab").read_text().splitlines()
        ]
        spec = TransformerSpec.from_config((1, 1), 2)
        chance = np.random.default_rng(5)

        width, words = 16, len(pieces)
        for side in (spec.encoder, spec.decoder):
            embeddings = (
                side.embeddings[0] if isinstance(side.embeddings, list) else side.embeddings
            )
            embeddings.weight = chance.normal(0, 1, (words, width)).astype(np.float32)
            for layer in side.layer:
                for attention in (layer.self_attention, getattr(layer, "attention", None)):
                    if attention is None:
                        continue
                    norm(attention.layer_norm, width)
                    sizes = (
                        [3 * width, width]
                        if attention is layer.self_attention
                        else [width, 2 * width, width]
                    )
                    for linear, size in zip(attention.linear, sizes, strict=True):
                        fill_linear(linear, size, width, chance)
                norm(layer.ffn.layer_norm, width)
                fill_linear(layer.ffn.linear_0, 32, width, chance)
                fill_linear(layer.ffn.linear_1, width, 32, chance)
            norm(side.layer_norm, width)
        fill_linear(spec.decoder.projection, words, width, chance)
        spec.register_source_vocabulary(pieces)
        spec.register_target_vocabulary(pieces)
        spec.validate()
        spec.save(str(folder))
        engine = NeuralEngine("mine", "mine", [look_into(folder)])
        said = engine.translate([*PEOPLE, ""], "en", "pt")
        self.assertEqual(len(said), 4)
        self.assertEqual(said[3], "")
        self.assertTrue(said[0].strip())
        self.assertEqual(said[:3], engine.translate(PEOPLE, "en", "pt"))
        ways = engine.alternatives(PEOPLE[0], "en", "pt")
        self.assertEqual(ways[0], said[0])
        self.assertEqual(len(ways), len(set(ways)))
        self.assertGreater(len(ways), 1)


def norm(spec, width):
    spec.gamma = np.ones(width, np.float32)
    spec.beta = np.zeros(width, np.float32)


def fill_linear(linear, out, into, chance):
    linear.weight = chance.normal(0, 0.3, (out, into)).astype(np.float32)
    linear.bias = np.zeros(out, np.float32)
