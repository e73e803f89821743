"""Finding and replacing on the pages that have a sheet."""
