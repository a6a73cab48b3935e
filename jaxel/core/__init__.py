"""The rules of the job and their computation.

Nothing here knows of the web or the store, and nothing reads or writes but the package's own data
files. Quantities are SI floats or NumPy arrays; `documents` and `units` convert at the boundary.
"""
