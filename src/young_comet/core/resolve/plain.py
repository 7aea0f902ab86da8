"""Texts for evaluators that have no library of their own."""

from __future__ import annotations

import threading

from ..typography.setting import SetTexts, shipped_only

# Shared by all evaluators that have no library of their own, in whatever thread they are.
_PLAIN: list[SetTexts] = []
PLAIN_LOCK = threading.RLock()


def plain_texts() -> SetTexts:
    """Texts in the shipped typefaces only."""
    if not _PLAIN:
        _PLAIN.append(SetTexts(shipped_only))
    return _PLAIN[0]
