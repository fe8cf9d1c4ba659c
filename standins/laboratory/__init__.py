"""A laboratory of controllers: one description each, and the forms made from it."""
