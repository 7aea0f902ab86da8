"""Texts that are set, kept while they are asked for."""

from __future__ import annotations

from collections.abc import Callable

from ..pixels.cache import SizedCache
from .along import TextPath, led_along
from .fonts import FontLibrary
from .layout import TextLayout
from .lines import lay_out
from .style import TextStyle

# Set texts that are kept: more than most scenes have layers.
KEPT_TEXTS = 4_000


class SetTexts:
    """Sets texts in the shipped typefaces and in those of files, which ``read`` gives by their
    hashes."""

    def __init__(self, read: Callable[[str], bytes]) -> None:
        self.fonts = FontLibrary(read)
        self._kept = SizedCache(KEPT_TEXTS)

    def text(self, text: str, style: TextStyle) -> TextLayout:
        """The set text; an equal text in an equal style is set once."""
        self.fonts.try_again(style.font)
        key = (text, style, self.fonts.opened_late)
        layout = self._kept.get(key)
        if layout is None:
            layout = lay_out(self.fonts, text, style)
            self._kept.put(key, layout, 1)
        return layout

    def laid_out(self, text: str, style: TextStyle, along: TextPath | None) -> TextLayout:
        """A text, set, and led along its path where it has one."""
        layout = self.text(text, style)
        if along is None:
            return layout
        key = (text, style, self.fonts.opened_late, along)
        led = self._kept.get(key)
        if led is None:
            led = led_along(layout, along, style.align)
            self._kept.put(key, led, 1)
        return led


def shipped_only(hash: str) -> bytes:
    """A reader where there are no files."""
    raise FileNotFoundError(hash)
