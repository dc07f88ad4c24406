"""Causes in plain words, said in one place for the page, the CLI and reports."""

from __future__ import annotations

from idle_harbor.core.engine.kernel.codes import Action, Cause, LostCause, WaitCause

#: Why people waited: what happened, and what a planner can do about it.
WAIT_CAUSES: dict[WaitCause, tuple[str, str]] = {
    WaitCause.STARTING: (
        "room was on its way: hosts were still starting",
        "start hosts earlier, or keep more headroom before the rush",
    ),
    WaitCause.NOT_ASKED: (
        "hosts were off and none had been started yet",
        "raise the floor, lower the fill ceiling or keep headroom in that band",
    ),
    WaitCause.LID: (
        "the band's lid let no more hosts be on",
        "raise the lid of that band",
    ),
    WaitCause.EXHAUSTED: (
        "every host of the pool was on and full",
        "add standing hosts, or raise the session limit if the load allows it",
    ),
    WaitCause.DRAINING: (
        "the last free slots were on draining hosts",
        "drain later, or keep more headroom while draining",
    ),
    WaitCause.NO_HOST: (
        "no host is theirs, and none is left that is nobody's",
        "add hosts, or give these people one in the pool's list",
    ),
    WaitCause.RESETTING: (
        "free hosts were being cleaned after their last person",
        "shorten the reset, or have more hosts",
    ),
    WaitCause.CREATING: (
        "surge hosts were still being created",
        "have more standing hosts, or shorten the script after creation",
    ),
    WaitCause.QUEUED: (
        "hosts waited for their start: only so many may start at once, here or in the whole place",
        "start earlier in smaller steps, or allow more parallel starts",
    ),
    WaitCause.QUOTA: (
        "hosts waited for their start: the quota of their size was used up",
        "ask for a larger quota, or take another size for some pools",
    ),
    WaitCause.FAILED: (
        "hosts had failed, and the rest was full",
        "keep spare hosts, or spread them over more zones",
    ),
    WaitCause.RUSH: (
        "logons on one host shared its CPU",
        "spread people over more ready hosts during the rush",
    ),
}

#: Why people lost the session that they had left: what ended it, and what can be done about it.
LOST_CAUSES: dict[LostCause, tuple[str, str]] = {
    LostCause.TIMEOUT: (
        "the timeout had signed them off",
        "let disconnected sessions last longer than a break",
    ),
    LostCause.FORCED: (
        "they had been signed off by force",
        "sign people off when nobody comes back any more",
    ),
    LostCause.FAILED: (
        "their host had failed",
        "spread people over more hosts, so that fewer lose theirs at once",
    ),
}

ACTIONS: dict[Action, str] = {
    Action.START: "started",
    Action.UNDRAIN: "taken back from draining",
    Action.DRAIN: "began to drain",
    Action.STOP: "stopped",
    Action.CREATE: "created",
    Action.RESET: "reset",
    Action.FAIL: "failed",
    Action.REPAIR: "repaired",
    Action.NOTICE: "began to drain with notice",
}

CAUSES: dict[Cause, str] = {
    Cause.HORIZON: "it was ready when the simulation began",
    Cause.KNOCK: "somebody asked for a desktop and found no host ready for them",
    Cause.ALWAYS: "standing hosts without a kept disk are never off",
    Cause.DRILL: "the drill said so",
    Cause.LAST_DATE: "the pool's last date had passed",
    Cause.CLEANED: "the last session on it had ended",
    Cause.FLOOR: "the floor asked for it",
    Cause.DRAIN_STEP: "so many hosts were to take nobody new by then",
    Cause.FAILED_START: "its start failed",
    Cause.READY_BY: "so many hosts are to be ready by a time",
    Cause.CEILING: "people filled the ready hosts beyond the fill ceiling",
    Cause.HEADROOM: "free slots fell below the headroom",
    Cause.EMPTY: "it was empty and more hosts were ready than wanted",
    Cause.RELEASE: "more hosts were ready than wanted and it was the least used",
    Cause.LOAD_RULE: "a load rule asked for it",
    Cause.DRAINED: "it had drained and was empty",
}
