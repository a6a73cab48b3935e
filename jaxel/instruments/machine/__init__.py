"""A machine of another physics: its truth is not the technician's model, and it shares no line with it."""
