"""Tests of tamarind.batch."""
