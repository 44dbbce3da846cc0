"""Django's SQLite backend with the number of parameters that SQLite itself takes."""
