"""Tests of tamarind.captions."""
