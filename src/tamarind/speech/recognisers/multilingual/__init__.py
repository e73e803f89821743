"""Recognisers for many languages: networks of the encoder-decoder kind that Radford et al. 2022
describe, in CTranslate2's format, decoded by us."""
