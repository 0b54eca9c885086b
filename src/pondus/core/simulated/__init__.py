"""Stand-ins for wood and microphone: sounds of known pitch, and the instrument that makes them."""
