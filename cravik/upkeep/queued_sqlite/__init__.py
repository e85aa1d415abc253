"""SQLite whose writers stand in line: a Django database backend, named in the settings."""
