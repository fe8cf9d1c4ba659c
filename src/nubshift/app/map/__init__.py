"""The workspace Map: the game's keys, the hands, and the selected control."""
