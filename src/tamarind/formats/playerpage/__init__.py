"""A page to publish: player, captions, chapters and a transcript that follows the sound."""
