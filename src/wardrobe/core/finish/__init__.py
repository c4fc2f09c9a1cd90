"""What finishes a picture: planes of spots, fades and textures for layers over all parts."""
