"""The text as an immutable value: words with times, in cues; every edit returns a new text."""
