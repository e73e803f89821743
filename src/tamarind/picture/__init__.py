"""The picture of a video: when a new shot begins."""
