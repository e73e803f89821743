"""A file becomes samples: probing, decoding, peaks for drawing, and where decoded sound is kept."""
