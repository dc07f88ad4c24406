"""What a month costs."""
