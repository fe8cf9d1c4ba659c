"""What a control by its position is used as: one follower a role."""
