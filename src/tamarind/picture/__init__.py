"""The picture of a video: shots, frames, and captions drawn on it."""
