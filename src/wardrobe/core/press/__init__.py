"""What a press prints: profiles, inks, how it will look, which colours it cannot print."""
