"""The text becomes right: house style, clean wording, numbers, quotes, spelling, marks."""
