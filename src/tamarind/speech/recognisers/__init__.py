"""Recognisers: whatever turns chunks of sound into readings, behind the interface in ``base``."""
