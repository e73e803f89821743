"""Words that are no longer used stand nowhere that a person reads."""

import ast
import re
import unittest
from pathlib import Path

TOP = Path(__file__).parents[1]
SOURCE = TOP / "src" / "tamarind"
GONE = (
    r"how to hear|recordings to hear|still to settle|keep as heard|second hearing|by themselves"
    r"|mend|mended|let it be|let be|certainty|doubts?|doubtful|letters in a line|take it back"
    r"|where the job lies|for everybody|can everybody follow|two opinions|clean-up|lies in"
    r"|what is seen|earlier states|voices? \d|hint at|must hold|no longer than \d+ letters"
)
KEPT = {
    # Names in files, which stay what they are.
    "certainty", "doubts by certainty", "let be", "doubtful below", "doubtful", "how to hear",
    "doubt", "a certainty", "a certainty from 0 to 1",
}  # fmt: skip


def told(path: Path):
    """The texts of a module that may be shown: all that are no docstring."""
    tree = ast.parse(path.read_text("utf-8"))
    silent = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
    for node in ast.walk(tree):
        text = node.value if isinstance(node, ast.Constant) else None
        if isinstance(text, str) and id(node) not in silent:
            yield node.lineno, text


class Words(unittest.TestCase):
    def test_in_the_program(self):
        wrong = [
            (str(path.relative_to(SOURCE)), line, text)
            for path in SOURCE.rglob("*.py")
            for line, text in told(path)
            if text not in KEPT
            and (" " in text or text[:1].isupper())
            and re.search(rf"\b(?:{GONE})\b", text, re.IGNORECASE)
            and not re.match(r"\s*(?:CREATE|ALTER|UPDATE|SELECT|is are|INSERT|REPLACE)", text)
        ]
        self.assertEqual(wrong, [])

    def test_in_the_guide_and_the_readme(self):
        pages = [TOP / "README.md", *(TOP / "docs" / "guide").glob("*.md")]
        wrong = [
            (page.name, found[0])
            for page in pages
            for found in re.finditer(rf"\b(?:{GONE})\b", page.read_text("utf-8"), re.IGNORECASE)
            if found[0] not in KEPT or page.name == "README.md"
        ]
        self.assertEqual(wrong, [])
