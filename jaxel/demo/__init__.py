"""The demo workshop: invented machines and riders, entered through the functions a user's clicks reach."""
