"""The text as a value: words with times, in cues, with every edit a function of the old text."""
