"""What runner and window say to each other: messages, what they may say, findings, and where files are."""
