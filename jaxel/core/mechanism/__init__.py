"""What a clutch does: forces, belt path and shift, in SI units and the mechanism's own names.

Knows no document and no person's unit.
"""
