"""Paper: its sizes, how a picture lies on it, and the sheet that is printed."""
