"""What a technician asks and decides: slots, steps, wear, scores and the visit."""
