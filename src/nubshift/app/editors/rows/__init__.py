"""Rows of panels: numbers, slots with what they send, the control that works something."""
