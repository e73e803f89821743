"""The commands of ``tamarind``: one module each, whose docstring's first line is its help.

Each has ``add_options``, which is loaded when it is meant, and ``run``, which loads what does it.
"""
