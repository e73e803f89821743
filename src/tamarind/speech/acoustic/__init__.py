"""The sound of phones: features, their model, and the fit of a text to a sound."""
