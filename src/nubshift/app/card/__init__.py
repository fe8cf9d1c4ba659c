"""The card: who does what in a game, by hand and finger and layer, to be printed."""
