"""Read and write documents: one module a format, pure functions between bytes and transcript."""
