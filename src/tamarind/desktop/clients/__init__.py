"""Who texts are for: the editor of clients, and delivery."""
