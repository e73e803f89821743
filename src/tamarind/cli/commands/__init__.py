"""The commands of ``tamarind``: a module for each, whose first line says what it is for.

Each has ``add_options``, which is loaded when it is meant, and ``run``, which loads what does it.
"""
