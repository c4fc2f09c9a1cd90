"""Routes: each takes a request apart, calls one thing, and puts the answer together."""
