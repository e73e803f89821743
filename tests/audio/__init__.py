"""Tests of tamarind.audio."""
