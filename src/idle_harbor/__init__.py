"""Idle Harbor: plans pools of session hosts before anything is built."""

__version__ = "0.1.0"
