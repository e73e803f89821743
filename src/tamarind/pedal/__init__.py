"""Foot pedals: devices with a few keys that are pressed with the feet while the hands type."""
