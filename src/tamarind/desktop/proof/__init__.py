"""The Proof page: listen and correct."""
