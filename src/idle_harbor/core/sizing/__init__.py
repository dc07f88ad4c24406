"""What a host bears, how many come at once, how many hosts that needs."""
