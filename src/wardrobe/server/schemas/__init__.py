"""What the API takes and gives, apart from recipes and edits."""
