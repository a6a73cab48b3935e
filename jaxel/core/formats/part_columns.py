"""The columns of a stock's sheet: what each is called, the unit it is stored in, and which say what a part is."""

from collections.abc import Mapping

TEXTS = ("number", "kind", "make", "place", "fits", "supplier_note", "superseded_by", "size", "station", "side",
         "members", "sheet", "starts", "omits", "not_used", "decal", "mark", "angles", "points", "stamped")  # fmt: skip

QUANTITIES: Mapping[str, str] = {
    "pieces": "",
    "pack": "",
    "price": "",
    "life_km": "km",
    "life_h": "h",
    "base_mass_g": "g",
    "mass_g": "g",
    "cg_mm": "mm",
    "cg_deg": "deg",
    "force_start_n": "N",
    "force_finish_n": "N",
    "travel_mm": "mm",
    "rate_n_per_mm": "",
    "free_length_mm": "mm",
    "installed_length_mm": "mm",
    "rated_start_n": "N",
    "torsion_rate_nm_per_deg": "",
    "pretwist_deg": "deg",
    "radius_mm": "mm",
    "over_mm": "mm",
    "thickness_mm": "mm",
    "minutes": "",
}
"""Columns of numbers and the unit each is stored in."""

COLUMNS = (
    *TEXTS[:5], "pieces", "price", "pack", "superseded_by", "supplier_note", "life_km", "life_h",
    "base_mass_g", "mass_g", "size", "cg_mm", "cg_deg", "station",
    "force_start_n", "force_finish_n", "travel_mm", "rate_n_per_mm", "free_length_mm", "installed_length_mm", "points",
    "rated_start_n", "torsion_rate_nm_per_deg", "pretwist_deg",
    "angles", "stamped", "radius_mm", "over_mm", "thickness_mm", "side",
    "members", "sheet", "starts", "omits", "not_used", "decal", "mark", "minutes",
)  # fmt: skip
"""Columns in the order they are written."""

OF_THE_PART = (
    "make",
    "place",
    "fits",
    "supplier_note",
    "superseded_by",
    "pieces",
    "pack",
    "price",
    "life_km",
    "life_h",
)
"""Columns that every part has; the rest describe what it is."""

LISTS = ("members", "omits", "not_used")
"""Columns that hold several texts, apart by semicolons."""

SPEC_COLUMNS: Mapping[str, tuple[str, ...]] = {
    "weights": ("base_mass_g", "size", "cg_mm", "cg_deg", "mark"),
    "loads": ("mass_g", "station"),
    "primary_springs": (
        "force_start_n", "force_finish_n", "travel_mm", "points", "installed_length_mm", "rated_start_n",
        "rate_n_per_mm", "free_length_mm", "mark",
    ),
    "secondary_springs": (
        "force_start_n", "force_finish_n", "travel_mm", "points", "installed_length_mm", "rated_start_n",
        "rate_n_per_mm", "free_length_mm", "torsion_rate_nm_per_deg", "pretwist_deg", "mark",
    ),
    "helixes": ("angles", "stamped", "over_mm", "radius_mm", "mark"),
    "shims": ("thickness_mm",),
    "washers": ("thickness_mm", "side"),
    "limiters": ("thickness_mm",),
    "line_up_shims": ("thickness_mm",),
    "kits": ("members", "sheet", "starts", "omits", "not_used", "decal"),
}  # fmt: skip
"""Columns that say what a part of each group is."""

COLUMN_NAMES: Mapping[str, str] = {
    "base_mass_g": "mass of one, or all weighed 57.0/57.1/56.9",
    "mass_g": "mass of one piece",
    "size": "size code",
    "cg_mm": "centre of mass from the pivot",
    "cg_deg": "its angle",
    "station": "only for station",
    "force_start_n": "force as fitted",
    "force_finish_n": "force at full travel",
    "travel_mm": "travel in the clutch",
    "points": "tester points, mm:N; mm:N",
    "installed_length_mm": "installed length",
    "rated_start_n": "rated force as fitted",
    "rate_n_per_mm": "rate, N/mm",
    "free_length_mm": "free length",
    "torsion_rate_nm_per_deg": "torsion rate, N·m/°",
    "pretwist_deg": "wind",
    "angles": "angles, mm:°; mm:°",
    "stamped": "or as stamped, 48/44",
    "over_mm": "over",
    "radius_mm": "radius, where its own",
    "thickness_mm": "thickness",
    "side": "primary or secondary only",
    "members": "part numbers in it, apart by ;",
    "sheet": "where its sheet begins, in words",
    "starts": "numbers it begins with, clicker:3; load_g.tip:4.5",
    "omits": "what it does not bring, apart by ;",
    "not_used": "hardware not to be used, apart by ;",
    "decal": "decal for the clutch",
    "mark": "no numbers: its colour or letter",
}
