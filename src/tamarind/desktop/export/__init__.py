"""Export: choose documents, see exactly what will be written, write it."""
