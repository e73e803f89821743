"""Intake: bring recordings in, say how to hear them, transcribe the batch."""
