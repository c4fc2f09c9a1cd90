"""What an experienced eye looks for, measured on the picture: arrays in, measures out."""
