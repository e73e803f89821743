"""Tell speakers apart by their voices, without knowing who they are."""
