"""The editor of caption styles."""
