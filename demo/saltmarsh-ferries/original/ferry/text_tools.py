"""Fixed-width text for the notice board printer, which knows letters and nothing else."""

ELLIPSIS = "…"


class TextError(Exception):
    """Text that cannot be laid out."""


def pad(text, width, fill=" "):
    """The text with fill at its end up to a width in characters; longer text is left alone."""
    return text + fill * (width - len(text))


def pad_left(text, width, fill=" "):
    """The text with fill before it."""
    return fill * (width - len(text)) + text


def shorten(text, width):
    """At most so many characters, the last one an ellipsis when something was cut."""
    if width < 1:
        raise TextError("no room for text: %d" % width)
    if len(text) <= width:
        return text
    return text[: width - 1].rstrip() + ELLIPSIS


def centre(text, width):
    """The text in the middle of a line; an odd blank goes to the right."""
    room = max(0, width - len(text))
    left = room // 2
    return " " * left + text + " " * (room - left)


def wrap(text, width):
    """Lines of whole words of at most a width; a longer word stands alone."""
    if width < 1:
        raise TextError("no room for text: %d" % width)
    lines = []
    line = ""
    for word in text.split():
        if line and len(line) + 1 + len(word) > width:
            lines.append(line)
            line = word
        else:
            line = line + " " + word if line else word
    if line:
        lines.append(line)
    return lines


def columns(rows, gap=2):
    """Rows of cells as aligned lines; the last column is not padded."""
    if not rows:
        return []
    count = max(len(row) for row in rows)
    widths = [0] * count
    for row in rows:
        for index, cell in enumerate(row):
            widths[index] = max(widths[index], len(cell))
    lines = []
    for row in rows:
        cells = [pad(cell, widths[index]) for index, cell in enumerate(row[:-1])]
        lines.append((" " * gap).join(cells + row[-1:]).rstrip())
    return lines


def rule(width, sign="-"):
    """A line across."""
    return sign * width


def heading(text, sign="="):
    """A text with a line of its own length under it."""
    return [text, rule(len(text), sign)]


def initials(name):
    """"Nele van Marsh" as NVM."""
    return "".join(word[0].upper() for word in name.replace("-", " ").split())


def tidy(text):
    """One blank between words and none at the ends."""
    return " ".join(text.split())


def box(lines, width=None):
    """Lines in a frame."""
    inner = width or max((len(line) for line in lines), default=0)
    framed = ["+" + "-" * (inner + 2) + "+"]
    for line in lines:
        framed.append("| " + pad(line, inner) + " |")
    framed.append("+" + "-" * (inner + 2) + "+")
    return framed


def count_letters(text):
    """How often each letter occurs, without regard to case."""
    counts = {}
    for sign in text.lower():
        if sign.isalpha():
            counts[sign] = counts.get(sign, 0) + 1
    return counts
