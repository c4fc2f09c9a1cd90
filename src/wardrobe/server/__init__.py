"""The web application: thin routes over the recipe and the core."""
