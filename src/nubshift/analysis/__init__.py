"""What reports of a control say of the hardware, and what trials say of a tuning. The only folder that knows NumPy."""
