"""How things are drawn: caps, nubs, planes. No widget, no rule of the domain."""
