"""The one door for everything that is entered: the page, the API, a CSV list and a whole studio's file check here.

Each subject has a frozen entry and a function that makes it, or refuses with a sentence that names the value and the way out.
Amounts leave here in the mechanism's own unit (turns of a screw, degrees of a peg's head), times in UTC, texts without control
characters. Nothing past this door checks again.

It may import every room but `views`, `practice` and `simulated`. Begin with `log`; `typed` reads a line that was typed.
"""
