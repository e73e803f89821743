"""Attacks on the promises that Tamarind makes: repeatable by a seed, bounded, each with a verdict.

``scripts/attack`` runs them and prints a table; a short form of each is among the tests.
"""
