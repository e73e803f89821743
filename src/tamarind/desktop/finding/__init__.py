"""Find and replace on the pages that have a sheet."""
