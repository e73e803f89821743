"""What every package needs of the machine: folders, files, the log, declared options."""
