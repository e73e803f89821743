"""Foot pedals: devices with a few keys for the feet while the hands type."""
