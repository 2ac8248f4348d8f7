"""Forms of records: every field of a part, a connector or a source."""
