"""Tamarind as a program of the desktop: its launcher, icons, type of file and manual pages."""
