"""What the workshop keeps: SQLite through plain SQL, one module per aggregate."""
