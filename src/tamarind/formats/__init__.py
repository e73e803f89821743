"""Text goes out and comes in: one module a format, pure functions between text and transcript."""
