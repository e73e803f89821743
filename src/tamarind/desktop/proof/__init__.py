"""Proof: listen and correct."""
