"""Tests of what a user would miss; the folders mirror src/tamarind."""
