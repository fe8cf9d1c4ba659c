"""Sources of input: controllers of the kernel and simulated ones."""
