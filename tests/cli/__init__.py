"""Tests of tamarind.cli."""
