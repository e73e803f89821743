"""The Intake page: add recordings, choose their settings, transcribe the batch."""
