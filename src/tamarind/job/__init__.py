"""What is kept: a job is one SQLite file with its recordings, texts and translations."""
