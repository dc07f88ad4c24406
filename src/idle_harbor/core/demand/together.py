"""What moves everyone of a site at once on a date: weather, trains, a works meeting."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

import numpy as np
from scipy.special import ndtri

from idle_harbor.core.demand import draws
from idle_harbor.core.plan import Site


@dataclass(frozen=True, slots=True)
class Common:
    """What all of a site have in common on a date: a factor on attendance, seconds of shift."""

    factor: float
    shift: float


_AS_USUAL = Common(1.0, 0.0)
#: Common shifts are cut at so many standard deviations.
_FURTHEST = 3.0


def common_on(site: Site, day: date, seed: int) -> Common:
    """A site's date: a lognormal factor of mean 1, and a normal shift of starts.

    They are drawn from streams of the site's own, whoever works there.
    """
    together = site.together
    if together.attendance_cv == 0.0 and together.shift_sd_minutes == 0.0:
        return _AS_USUAL
    u = draws.uniforms(1, seed, "together", site.id, day, "attendance")
    factor = float(draws.lognormals(u, 1.0, together.attendance_cv)[0])
    at = draws.uniforms(1, seed, "together", site.id, day, "start")
    deviation = float(np.clip(ndtri(at[0]), -_FURTHEST, _FURTHEST))
    return Common(factor, 60.0 * together.shift_sd_minutes * deviation)


def furthest_shift(site: Site) -> float:
    """Seconds by which a day's starts are moved at most."""
    return _FURTHEST * 60.0 * site.together.shift_sd_minutes
