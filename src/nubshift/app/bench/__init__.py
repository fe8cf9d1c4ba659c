"""The bench: what belongs to the whole profile and is edited wide, in place of the hands: belts and macros."""
