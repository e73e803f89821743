"""Jobs on disk: one SQLite file with recordings, texts and translations."""
