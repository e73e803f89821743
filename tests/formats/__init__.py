"""Tests of tamarind.formats."""
