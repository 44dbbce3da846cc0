"""The open formats: readings as a person writes them, readings files, wire colours."""
