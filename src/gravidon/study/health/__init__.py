"""What years of readings say of the feed: fitted, with how sure."""
