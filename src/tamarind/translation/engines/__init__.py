"""Translation engines, with the interface in ``base``."""
