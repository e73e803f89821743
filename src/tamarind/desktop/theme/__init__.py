"""Colours, fonts, icons and the style sheet that ship with the program."""
