"""How a spell ends, as compiled loops see it."""

from __future__ import annotations

#: A second that never comes: a heap orders it last.
FAR = 2**31 - 2
SIGN_OFF, DISCONNECT, WALK_AWAY = range(3)
