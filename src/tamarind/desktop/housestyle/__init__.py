"""The editor of house styles, with a live example on the person's own text."""
