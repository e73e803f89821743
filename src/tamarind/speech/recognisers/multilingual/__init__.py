"""Multilingual recognisers: encoder-decoder networks as in Radford et al. 2022, stored in
CTranslate2's format, decoded by us."""
