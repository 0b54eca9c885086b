"""Starting and stopping what Pondus runs on this machine: its private database cluster and its server."""
