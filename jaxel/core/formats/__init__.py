"""The open documents, read into the mechanism and written from it, one module a format; units end here."""
