"""The rules of the job and their computation, in three rings.

`mechanism` is what a clutch does, in SI; `formats` reads and writes the open documents and ends every unit;
`trade` is what a technician asks. Nothing here knows of the web or the store, and nothing reads or writes but the
package's own data files.
"""
