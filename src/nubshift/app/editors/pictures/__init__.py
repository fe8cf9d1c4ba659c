"""Pictures that are handled: a press, a plane, depths, pulses, curves."""
