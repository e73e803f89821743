"""The acoustic model of phones: features, scores, and how well a text fits a sound."""
