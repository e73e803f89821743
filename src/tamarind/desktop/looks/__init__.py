"""Looks of captions on the picture: choosing, changing and keeping them."""
