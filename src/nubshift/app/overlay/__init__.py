"""What is shown over the game."""
