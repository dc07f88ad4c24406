"""Quantiles for the compiled loops: the standard normal, and observed histograms."""

from __future__ import annotations

import numpy as np

from idle_harbor.core.base.compiled import compiled

# Wichura (1988), "Algorithm AS 241: The percentage points of the normal distribution", PPND16:
# rational approximations for the middle, the shoulders and the tails; relative error about 1e-16.
_SPLIT_MIDDLE = 0.425
_SPLIT_TAIL = 5.0


@compiled("f8(f8)", inline=True)
def _middle(q):
    r = 0.180625 - q * q
    above = (
        (
            (
                (
                    (
                        (2.5090809287301226727e3 * r + 3.3430575583588128105e4) * r
                        + 6.7265770927008700853e4
                    )
                    * r
                    + 4.5921953931549871457e4
                )
                * r
                + 1.3731693765509461125e4
            )
            * r
            + 1.9715909503065514427e3
        )
        * r
        + 1.3314166789178437745e2
    ) * r + 3.3871328727963666080e0
    below = (
        (
            (
                (
                    (
                        (5.2264952788528545610e3 * r + 2.8729085735721942674e4) * r
                        + 3.9307895800092710610e4
                    )
                    * r
                    + 2.1213794301586595867e4
                )
                * r
                + 5.3941960214247511077e3
            )
            * r
            + 6.8718700749205790830e2
        )
        * r
        + 4.2313330701600911252e1
    ) * r + 1.0
    return q * above / below


@compiled("f8(f8)", inline=True)
def _shoulder(r):
    above = (
        (
            (
                (
                    (
                        (7.74545014278341407640e-4 * r + 2.27238449892691845833e-2) * r
                        + 2.41780725177450611770e-1
                    )
                    * r
                    + 1.27045825245236838258e0
                )
                * r
                + 3.64784832476320460504e0
            )
            * r
            + 5.76949722146069140550e0
        )
        * r
        + 4.63033784615654529590e0
    ) * r + 1.42343711074968357734e0
    below = (
        (
            (
                (
                    (
                        (1.05075007164441684324e-9 * r + 5.47593808499534494600e-4) * r
                        + 1.51986665636164571966e-2
                    )
                    * r
                    + 1.48103976427480074590e-1
                )
                * r
                + 6.89767334985100004550e-1
            )
            * r
            + 1.67638483018380384940e0
        )
        * r
        + 2.05319162663775882187e0
    ) * r + 1.0
    return above / below


@compiled("f8(f8)", inline=True)
def _tail(r):
    above = (
        (
            (
                (
                    (
                        (2.01033439929228813265e-7 * r + 2.71155556874348757815e-5) * r
                        + 1.24266094738807843860e-3
                    )
                    * r
                    + 2.65321895265761230930e-2
                )
                * r
                + 2.96560571828504891230e-1
            )
            * r
            + 1.78482653991729133580e0
        )
        * r
        + 5.46378491116411436990e0
    ) * r + 6.65790464350110377720e0
    below = (
        (
            (
                (
                    (
                        (2.04426310338993978564e-15 * r + 1.42151175831644588870e-7) * r
                        + 1.84631831751005468180e-5
                    )
                    * r
                    + 7.86869131145613259100e-4
                )
                * r
                + 1.48753612908506148525e-2
            )
            * r
            + 1.36929880922735805310e-1
        )
        * r
        + 5.99832206555887937690e-1
    ) * r + 1.0
    return above / below


@compiled("f8(f8)")
def normal_quantile(u):
    """The standard normal's quantile at ``u`` in (0, 1)."""
    q = u - 0.5
    if abs(q) <= _SPLIT_MIDDLE:
        return _middle(q)
    r = np.sqrt(-np.log(u if q < 0.0 else 1.0 - u))
    value = _shoulder(r - 1.6) if r <= _SPLIT_TAIL else _tail(r - _SPLIT_TAIL)
    return -value if q < 0.0 else value


@compiled("f8(f8, f8[::1], i8, i8)")
def histogram_quantile(u, cumulative, first, count):
    """Where ``u`` falls in a histogram, in steps from its beginning (uniform within a step).

    ``cumulative[first : first + count]`` rises to 1.
    """
    low, high = first, first + count - 1
    while low < high:
        middle = (low + high) // 2
        if cumulative[middle] > u:
            high = middle
        else:
            low = middle + 1
    before = cumulative[low - 1] if low > first else 0.0
    width = cumulative[low] - before
    inside = (u - before) / width if width > 0.0 else 0.0
    return (low - first) + inside
