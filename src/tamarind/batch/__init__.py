"""Work in the background: worker processes, the tasks they take and the events they send."""
