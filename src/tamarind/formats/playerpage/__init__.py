"""Write a web page with player, captions, chapters and a transcript that follows the sound."""
