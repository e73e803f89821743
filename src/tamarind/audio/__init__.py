"""From a file to samples: probing, decoding, peaks, and the cache of decoded sound."""
