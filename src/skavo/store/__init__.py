"""What is kept: the database, its migrations, and files by their hash."""
