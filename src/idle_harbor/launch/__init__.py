"""Starting things: Debian packages, the private database cluster, the front end, the server."""
