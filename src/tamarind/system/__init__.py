"""What every room needs of the machine: folders, files, the log, and quiet libraries."""
