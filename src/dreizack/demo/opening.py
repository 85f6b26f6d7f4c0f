"""The opening of the documentary: its main title, the quay, and the first part, as one sequence."""

from __future__ import annotations

from ..core.document import Colour, Marker, Rate
from ..core.sequence import Laid, Lane, Sequence, SequencePiece, Transition, Version

NAME = "Opening"
SIZES = {"16:9": (1920, 1080), "9:16": (1080, 1920), "1:1": (1080, 1080)}
# In pictures that are not wide the words on the quay stand in two lines.
TALL = {"on-the-quay/title": "SLACK\nWATER"}
GERMAN = {
    "main-title/title": "STILLWASSER",
    "on-the-quay/title": "STILLWASSER",
    "part-one/title": "ERSTES\nLICHT",
    "lower-third/office": "Maat der Marrow Light\nseit # Jahren",
}
GERMAN_TALL = {**GERMAN, "on-the-quay/title": "STILL\nWASSER"}


def opening(shots: dict[str, str]) -> Sequence:
    """The sequence; ``shots`` gives the name it has for each shot of the demo, by file name."""
    line = [
        SequencePiece(name="Main title", shot=shots["main-title"], frames=112),
        SequencePiece(
            name="On the quay",
            shot=shots["on-the-quay"],
            frames=90,
            transition=Transition(kind="dissolve", frames=18, ease="soft"),
        ),
        SequencePiece(
            name="Part one: First light",
            shot=shots["part-one"],
            frames=96,
            transition=Transition(kind="letters", frames=20),
        ),
        SequencePiece(
            kind="colour",
            name="Dark water",
            frames=78,
            colour=Colour(r=0.008, g=0.016, b=0.024),
            transition=Transition(kind="dissolve", frames=14, ease="soft"),
        ),
    ]
    third = Laid(
        at=246,
        piece=SequencePiece(name="Lower third: mate", shot=shots["lower-third"], frames=78),
        fade_out=10,
    )
    versions = [
        Version(
            name=f"{language} {shape}",
            width=width,
            height=height,
            texts=_named(wide if width > height else tall, shots),
        )
        for language, wide, tall in (("english", {}, TALL), ("deutsch", GERMAN, GERMAN_TALL))
        for shape, (width, height) in SIZES.items()
    ]
    return Sequence(
        name=NAME,
        rate=Rate(num=25, den=1),
        line=line,
        lanes=[Lane(name="Names", pieces=[third])],
        markers=[Marker(frame=94, name="quay")],
        versions=versions,
        loudness=-23,
    )


def _named(texts: dict[str, str], shots: dict[str, str]) -> dict[str, str]:
    """Texts by the names that the sequence has for shots."""
    found = {}
    for where, text in texts.items():
        shot, thing = where.split("/")
        found[f"{shots[shot]}/{thing}"] = text
    return found
