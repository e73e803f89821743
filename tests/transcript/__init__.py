"""Tests of tamarind.transcript."""
