"""Every kind of long work, a file each."""
