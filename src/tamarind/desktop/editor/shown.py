"""The text of rows as shown: with spaces just typed, and with text that an input method is
composing."""

from __future__ import annotations

from tamarind.desktop.editor.content import Content


class ShownText:
    """Stored texts have single spaces and none at their ends; a person who types has both."""

    def __init__(self, content: Content) -> None:
        self._content = content
        self._typed: tuple[int, str, str] | None = None
        self._coming: tuple[int, str, str] | None = None
        self.composed = ""
        """What an input method is making at the caret, which is in no text yet."""

    def of(self, row: int) -> str:
        """Return a row's text as shown."""
        text = self._content.text(row)
        if self._typed and self._typed[0] == row and self._typed[2] == text:
            return self._typed[1]
        return text

    def expect(self, row: int, text: str) -> None:
        """Note the text that is about to be written to a row."""
        self._coming = (row, text, " ".join(text.split()))

    def arrive(self) -> bool:
        """Take changed rows; return whether the change was expected."""
        if self._coming is None:
            return False
        self._typed, self._coming = self._coming, None
        return True

    def leave(self, row: int | None = None) -> int | None:
        """Move the caret to a row (None: to none); return the row that loses its spaces by that."""
        if self._typed is None or self._typed[0] == row:
            return None
        left, self._typed = self._typed[0], None
        return left
