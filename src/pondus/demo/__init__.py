"""The demo studio: Tern Island string camp. All names are made up."""
