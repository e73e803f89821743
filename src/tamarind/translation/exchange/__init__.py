"""Translations handed out to people and programs elsewhere, and taken back."""
