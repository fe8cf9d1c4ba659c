"""The process that reads controllers, runs the engine and sends output."""
