"""Tests of tamarind.speech."""
