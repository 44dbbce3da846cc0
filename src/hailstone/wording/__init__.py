"""What the core found, put into plain trade words. No Django here: the command line uses it too."""
