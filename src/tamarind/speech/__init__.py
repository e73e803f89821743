"""From samples to timed words; ``hearing`` is the whole way, readable from top to bottom."""
