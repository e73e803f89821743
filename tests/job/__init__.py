"""Tests of tamarind.job."""
