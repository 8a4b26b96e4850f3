"""Today: what needs somebody, on one page, as a feed, and on the command line."""
