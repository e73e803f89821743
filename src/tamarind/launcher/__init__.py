"""Integrate Tamarind with the desktop: launcher, icons, file type and manual pages."""
