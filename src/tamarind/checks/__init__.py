"""Find what breaks the house style, with a place, a reason and, where possible, a fix."""
