"""What a newcomer relies on: the demo is whole, and the documents say what is so."""

import ast
import re
import runpy
import shutil
import tomllib
import unittest
from collections import defaultdict
from pathlib import Path

import tamarind
from tamarind.audio.fingerprint import fingerprint
from tamarind.desktop.commands import all_commands
from tamarind.job.recording import State
from tamarind.job.store import JobStore
from tests.support import DEMO, FolderTest

PLACES = ("src", "tests", "scripts", "benchmarks", "attacks", "demo")
ROOMS = (
    "desktop", "application", "job", "batch", "speech", "formats", "captions", "checks", "cli",
    "language", "picture", "audio", "system", "translation", "transcript", "tests",
)  # fmt: skip
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

    def test_every_room_has_a_page(self):
        folders = (TOP / "src" / "tamarind").iterdir()
        rooms = {one.name for one in folders if (one / "__init__.py").is_file()}
        self.assertEqual({page.stem for page in (TOP / "docs" / "rooms").glob("*.md")}, rooms)
        told = (TOP / "docs" / "architecture.md").read_text()
        for room in rooms:
            self.assertIn(f"(rooms/{room}.md)", told)

    def test_paths_and_names_in_documents_exist(self):
        files = [
            p for top in PLACES for p in (TOP / top).rglob("*") if "__pycache__" not in p.parts
        ]
        sources = {p: p.read_text() for p in files if p.suffix == ".py"}
        ends = "\n".join(str(p.relative_to(TOP)) for p in files) + "\n"
        classes = defaultdict(str)
        for text in sources.values():
            for name in re.findall(r"^class (\w+)", text, re.MULTILINE):
                classes[name] += text
        documents = {p: p.read_text() for p in (TOP / "docs").rglob("*.md")}
        documents[TOP / "CONTRIBUTING.md"] = (TOP / "CONTRIBUTING.md").read_text()
        # What was measured tells of files as they were then.
        del documents[TOP / "docs" / "benchmarks.md"]
        wrong = []
        for document, text in documents.items():
            for token in re.findall(r"`([^`\n]+)`", text):
                if path := re.fullmatch(r"([\w/]+\.py)(?:: (\w+))?", token):
                    own = [t for p, t in sources.items() if str(p).endswith(f"/{path[1]}")]
                    if not own or (path[2] and not any(path[2] in t for t in own)):
                        wrong.append((document.name, token))
                elif path := re.fullmatch(r"((?:\w+/)+\w*)(?::? .*)?", token):
                    known = f"{path[1].rstrip('/')}"
                    if path[1].split("/")[0] in ROOMS and known not in ends:
                        wrong.append((document.name, token))
                elif (name := re.fullmatch(r"([A-Z]\w+)\.(\w+)(?:\(.*\))?", token)) and name[
                    2
                ] not in classes.get(name[1], name[2]):
                    wrong.append((document.name, token))
        self.assertEqual(wrong, [])

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
