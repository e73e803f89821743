"""Recognisers: what turns segments of sound into hypotheses, behind the interface in ``base``."""
