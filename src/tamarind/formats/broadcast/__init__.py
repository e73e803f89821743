"""Files that broadcasters take: captions on rows and columns, with timecodes of frames."""
