"""The database: pieces, their history, and sittings."""
