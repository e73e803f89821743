"""What a newcomer relies on: the demo is whole, and the documents say what is so."""

import ast
import re
import runpy
import shutil
import tomllib
import unittest
from pathlib import Path

import tamarind
from tamarind.audio.fingerprint import fingerprint
from tamarind.desktop.commands import all_commands
from tamarind.job.recording import State
from tamarind.job.store import JobStore
from tests.support import DEMO, FolderTest

TOP = Path(__file__).parent.parent


class Demo(FolderTest):
    def test_its_recordings_are_there_small_and_in_different_containers(self):
        job = shutil.copytree(DEMO, self.folder / "demo") / "Peatland voices.tamarind"
        store = JobStore(job)
        self.addCleanup(store.close)
        recordings = store.recordings()
        self.assertEqual(len({recording.info.container for recording in recordings}), 3)
        self.assertEqual(len({recording.info.codec for recording in recordings}), 3)
        for recording in recordings:
            self.assertEqual(fingerprint(recording.path), recording.fingerprint)
            self.assertLess(recording.path.stat().st_size, 4_000_000)
        states = [recording.state for recording in recordings]
        self.assertEqual(states.count(State.READY), 1)
        self.assertEqual(states.count(State.DRAFT), 4)


class Documents(unittest.TestCase):
    def test_one_version_everywhere(self):
        project = tomllib.loads((TOP / "pyproject.toml").read_text())["project"]
        self.assertEqual(project["version"], tamarind.__version__)
        self.assertIn(f"## {tamarind.__version__}", (TOP / "CHANGELOG.md").read_text())

    def test_every_dependency_is_explained(self):
        project = tomllib.loads((TOP / "pyproject.toml").read_text())["project"]
        told = (TOP / "docs" / "dependencies.md").read_text().lower()
        named = project["dependencies"] + project["optional-dependencies"]["dev"]
        for dependency in named:
            name = re.split(r"[=<>]", dependency)[0].lower()
            self.assertIn(name, told)

    def test_every_shipped_face_is_in_the_notices(self):
        notices = (TOP / "THIRD_PARTY_NOTICES.md").read_text()
        folders = TOP / "src/tamarind/desktop/theme/fonts", TOP / "src/tamarind/picture/fonts"
        paths = [path for one in folders for path in one.iterdir() if path.suffix != ".txt"]
        self.assertGreater(len(paths), 10)
        for path in paths:
            self.assertIn(path.name.split("-")[0], notices.replace(" ", ""))

    def test_pictures_and_files_that_the_readme_links_are_there(self):
        for link in re.findall(r"\]\(([^)#:]+)\)", (TOP / "README.md").read_text()):
            self.assertTrue((TOP / link).is_file(), link)

    def test_the_rooms_in_the_architecture_are_those_of_the_source(self):
        told = (TOP / "docs" / "architecture.md").read_text()
        for folder in (TOP / "src" / "tamarind").iterdir():
            if folder.is_dir() and folder.name != "__pycache__":
                self.assertIn(f"  {folder.name}/", told)

    def test_every_module_says_what_it_is_for(self):
        for path in (TOP / "src").rglob("*.py"):
            self.assertTrue(ast.get_docstring(ast.parse(path.read_text())), path)

    def test_a_public_class_has_a_name_of_its_own(self):
        homes = {}
        for path in (TOP / "src").rglob("*.py"):
            for node in ast.parse(path.read_text()).body:
                if isinstance(node, ast.ClassDef) and not node.name.startswith("_"):
                    homes.setdefault(node.name, []).append(path)
        self.assertEqual({name: own for name, own in homes.items() if len(own) > 1}, {})

    def test_what_documents_take_from_the_code_is_as_it_says(self):
        script = runpy.run_path(str(TOP / "scripts" / "make_reference.py"))
        for path, text in script["files"]():
            self.assertEqual(path.read_text("utf-8"), text, "run scripts/make_reference.py")

    def test_the_readmes_keys_are_the_programs(self):
        text = (TOP / "README.md").read_text("utf-8")
        elsewhere = text.split("<!-- made by")[0]
        known = {key for command in all_commands() for key in command.keys}
        for key in re.findall(r"`((?:Ctrl|Alt)\+[^`]+)`", elsewhere):
            self.assertIn(key.replace("Enter", "Return"), known)
