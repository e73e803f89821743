"""The Export page: choose documents, see exactly what will be written, write it."""
