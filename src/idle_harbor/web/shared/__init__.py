"""What every view's routes use."""
