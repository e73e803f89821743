"""Rules of language: house style, clean wording, numbers, quotes, spelling, punctuation."""
