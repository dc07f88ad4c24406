"""What a finished run says: waits, comfort, host-hours, pictures, intervals."""
