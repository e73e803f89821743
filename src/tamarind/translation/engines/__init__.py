"""Translation engines, behind the interface in ``base``."""
