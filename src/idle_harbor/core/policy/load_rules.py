"""What load rules ask for, and whether they let hosts go."""

from __future__ import annotations

from numba import types

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.policy.view import (
    RULE_TYPE,
    SETTINGS_TYPE,
    VIEW_TYPE,
    RuleRow,
    Settings,
    View,
    rule_table,
)

_NUMBER = types.int64


@compiled(_NUMBER(types.boolean, _NUMBER, _NUMBER), inline=True)
def _since(beyond: bool, since: int, now: int) -> int:
    """Return the look since which a signal has been beyond a mark at every look; -1 if it is
    not."""
    if not beyond:
        return -1
    return since if since >= 0 else now


@compiled(types.void(RULE_TYPE, _NUMBER), inline=True)
def _notice_marks(rule: RuleRow, now: int) -> None:
    """Update since when the signal has been beyond each mark; a signal without a value is beyond
    none."""
    above = rule.value > rule.asks_at
    below = rule.value < rule.permits_at
    if rule.low != 0:
        above, below = rule.value < rule.asks_at, rule.value > rule.permits_at
    rule.asked_since = _since(rule.asks != 0 and above, rule.asked_since, now)
    rule.permitted_since = _since(rule.permits != 0 and below, rule.permitted_since, now)


@compiled(types.void(RULE_TYPE, _NUMBER, _NUMBER), inline=True)
def _change(rule: RuleRow, now: int, most: int) -> None:
    """Grow or shrink the hosts that a rule asks for, once its hold and the pause since its last
    change are over."""
    if now - rule.changed_at < rule.pause:
        return
    before = rule.extra
    if rule.asked_since >= 0 and now - rule.asked_since >= rule.asks_hold:
        rule.extra = min(rule.extra + rule.adds, most)
    elif rule.permitted_since >= 0 and now - rule.permitted_since >= rule.permits_hold:
        rule.extra = max(rule.extra - rule.takes_back, 0)
    if rule.extra != before:
        rule.changed_at = now
        rule.change = 1 if rule.extra > before else -1


@compiled(types.void(VIEW_TYPE, SETTINGS_TYPE))
def look_at_rules(view: View, settings: Settings) -> None:
    """Set the extra hosts that load rules ask for (``view.extra``, the maximum over the rules) and
    whether a rule keeps all hosts (``view.veto``).

    Signals are followed in all bands; a rule that the band does not use asks for nothing.
    """
    rules = rule_table(view.rule_at, view.rules)
    begins = view.band_begins != settings.band_begins
    view.band_begins = settings.band_begins
    view.extra = view.veto = 0
    for k in range(view.rules):
        rule = rules[k]
        rule.change = 0
        _notice_marks(rule, view.now)
        if (settings.rules >> k) & 1 == 0:
            rule.extra = 0
        elif rule.asks == 0:
            over = rule.permitted_since >= 0
            if not over or view.now - rule.permitted_since < rule.permits_hold:
                view.veto = 1
        else:
            if begins and rule.permits == 0:
                rule.extra = 0
            _change(rule, view.now, view.hosts)
            view.extra = max(view.extra, rule.extra)
