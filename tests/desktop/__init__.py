"""Tests of tamarind.desktop: real windows without a screen."""
