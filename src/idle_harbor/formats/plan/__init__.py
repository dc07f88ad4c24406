"""Plan documents: text to core values and back, their faults, their merge, their docs."""
