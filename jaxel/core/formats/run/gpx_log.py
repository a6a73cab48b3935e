"""A phone's track read into a log: time and vehicle speed from GPX."""

import re
from itertools import pairwise

import numpy as np

from jaxel.core.errors import InvalidValue
from jaxel.core.mechanism.run.log import Log

_DECLARED = re.compile(rb"<!(DOCTYPE|ENTITY)", re.IGNORECASE)

FEWEST_POINTS = 10

FASTEST = 111.0
"""Speed beyond which a step of a track is a jump of the receiver, not of the machine [m/s]; from memory."""


def is_gpx(data: bytes) -> bool:
    """Whether a file is XML rather than a table."""
    return data[:2000].lstrip(b"\xef\xbb\xbf \t\r\n").startswith(b"<")


def read_gpx(data: bytes) -> Log:
    """Read the first track of a GPX file: its speed where the file holds one, else from the distance between points.

    Raises InvalidValue (field `log`) for a file that is no GPX, declares entities, or holds no timed track.

    Reference: GPX 1.1 schema, topografix.com/GPX/1/1; great-circle distance by gpxpy.
    """
    if _DECLARED.search(data):
        line = data[: _DECLARED.search(data).start()].count(b"\n") + 1  # type: ignore[union-attr]
        raise InvalidValue("log", f"line {line} declares a document type or an entity: a track needs none")
    import gpxpy  # slow to import: only reading a track needs it
    import gpxpy.gpx

    try:
        parsed = gpxpy.parse(data.decode("utf-8-sig"))
    except UnicodeDecodeError:
        raise InvalidValue("log", "is not a text file") from None
    except (gpxpy.gpx.GPXException, ValueError, TypeError, RecursionError) as error:
        raise InvalidValue("log", f"is not a GPX track: {' '.join(str(error).split())[:120]}") from None
    points = [point for track in parsed.tracks for segment in track.segments for point in segment.points]
    timed = [(point, point.time) for point in points if point.time is not None]
    if len(timed) < FEWEST_POINTS:
        raise InvalidValue("log", f"holds {len(timed)} points with a time: a run has at least {FEWEST_POINTS}")
    begin = timed[0][1]
    time = np.array([(at - begin).total_seconds() for _, at in timed])
    told = [point.speed for point, _ in timed]
    if sum(speed is not None for speed in told) > len(told) / 2:
        speed = np.array([np.nan if each is None else each for each in told], float)
    else:
        legs = np.array([point.distance_2d(after) or 0.0 for (point, _), (after, _) in pairwise(timed)])
        steps = np.diff(time)
        with np.errstate(invalid="ignore", divide="ignore"):
            between = np.where(steps > 0, legs / steps, np.nan)
        speed = np.interp(time, 0.5 * (time[1:] + time[:-1]), np.nan_to_num(between))
    speed[speed > FASTEST] = np.nan
    if not np.any(np.isfinite(speed)):
        raise InvalidValue("log", "holds no speed and no distance between its points")
    return Log(time, {"speed": speed})
