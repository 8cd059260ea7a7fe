"""Tables and queries of Publish."""
