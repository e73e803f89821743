"""The text in other languages: engines, and tracks that hang on the cues of their source."""
