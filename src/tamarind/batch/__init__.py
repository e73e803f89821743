"""Work in the background: worker processes, their tasks and their events."""
