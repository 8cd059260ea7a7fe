"""What do we tell people: the method page, its files, the archive of a whole trial."""
