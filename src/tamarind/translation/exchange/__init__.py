"""Send translations to people and programs elsewhere, and bring them back."""
