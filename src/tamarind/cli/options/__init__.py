"""The options of each command, made only when that command is meant."""
