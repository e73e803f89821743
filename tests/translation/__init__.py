"""Tests of tamarind.translation."""
