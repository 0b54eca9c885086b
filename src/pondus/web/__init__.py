"""The web API, the pages, and the listening socket."""
