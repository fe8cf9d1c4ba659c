"""What is open: the profile with its file, what of it is selected, and the slot that is being assigned."""
