"""The formats of deliveries: what each is for, and what it holds."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

# FFmpeg's name of what an encoder is told, and the value.
Options = dict[str, str]


class FormatError(ValueError):
    """A format that does not exist or cannot hold what is wanted; the text says what to choose."""


@dataclass(frozen=True)
class Encoding:
    """How a movie is encoded: names of encoder, pixels, container and sound as FFmpeg has them.

    ``pixels`` with an alpha are fed straight alpha, as their standards want; ``tagged`` are movies that
    carry colour tags (ITU-T H.273).
    """

    codec: str
    pixels: str
    container: str
    options: Options = field(default_factory=dict)
    sound: str = "aac"
    tagged: bool = True


@dataclass(frozen=True)
class DeliveryFormat:
    """One format. ``holds``: the finished picture, titles alone with straight alpha, light as it was traced,
    or that with every pass; ``bits`` a channel, ``even`` where width and height must be."""

    name: str
    label: str
    suffix: str
    tells: str
    bits: int
    holds: Literal["picture", "titles", "light", "passes", "lights"] = "picture"
    encoding: Encoding | None = None
    even: bool = False
    media_type: str = "application/octet-stream"

    @property
    def movie(self) -> bool:
        return self.encoding is not None

    @property
    def alpha(self) -> Literal["none", "straight", "premultiplied"]:
        if self.holds == "picture":
            return "none"
        return "straight" if self.holds == "titles" else "premultiplied"

    @property
    def traces(self) -> bool:
        """Whether more is traced of a frame when it is written."""
        return self.holds in ("passes", "lights")

    @property
    def sound(self) -> bool:
        return self.encoding is not None and self.encoding.sound != ""


_FORMATS = (
    DeliveryFormat(
        "mp4",
        "H.264 in MP4",
        ".mp4",
        "Plays everywhere; for approval and the web.",
        8,
        encoding=Encoding("libx264", "yuv420p", "mp4", {"crf": "16", "preset": "medium"}),
        even=True,
        media_type="video/mp4",
    ),
    DeliveryFormat(
        "hevc",
        "HEVC in MP4, 10 bit",
        ".mp4",
        "Half the size of H.264, no banding in soft light; takes longer.",
        10,
        encoding=Encoding(
            "libx265",
            "yuv420p10le",
            "mp4",
            {"crf": "18", "preset": "medium", "tag": "hvc1", "x265-params": "log-level=error"},
        ),
        even=True,
        media_type="video/mp4",
    ),
    DeliveryFormat(
        "av1",
        "AV1 in MP4, 10 bit",
        ".mp4",
        "Smallest files for the web.",
        10,
        encoding=Encoding("libsvtav1", "yuv420p10le", "mp4", {"crf": "22", "preset": "6"}),
        even=True,
        media_type="video/mp4",
    ),
    DeliveryFormat(
        "prores-422",
        "ProRes 422 HQ in MOV",
        ".mov",
        "For the edit: every frame by itself, 10 bit.",
        10,
        encoding=Encoding("prores_aw", "yuv422p10le", "mov", {"profile": "3"}, "pcm_s24le"),
        even=True,
        media_type="video/quicktime",
    ),
    DeliveryFormat(
        "prores-4444",
        "ProRes 4444 with alpha in MOV",
        ".mov",
        "For the edit: titles alone with straight alpha, to lay over anything.",
        10,
        "titles",
        Encoding("prores_aw", "yuva444p10le", "mov", {"profile": "4"}, "pcm_s24le"),
        even=True,
        media_type="video/quicktime",
    ),
    DeliveryFormat(
        "vp9-alpha",
        "VP9 with alpha in WebM",
        ".webm",
        "Titles alone with straight alpha, for web pages.",
        8,
        "titles",
        Encoding(
            "libvpx-vp9",
            "yuva420p",
            "webm",
            {"crf": "18", "b": "0", "row-mt": "1", "cpu-used": "4", "auto-alt-ref": "0"},
            "libopus",
        ),
        even=True,
        media_type="video/webm",
    ),
    DeliveryFormat(
        "loop",
        "Animated GIF, loops",
        ".gif",
        "A small loop for messages; 256 colours a picture, no sound.",
        8,
        encoding=Encoding("gif", "pal8", "gif", {"loop": "0"}, "", tagged=False),
        media_type="image/gif",
    ),
    DeliveryFormat("png", "PNG frames", ".png", "Finished pictures, 8 bit.", 8),
    DeliveryFormat(
        "png-alpha", "PNG frames with alpha", ".png", "Titles alone, 16 bit, straight alpha.", 16, "titles"
    ),
    DeliveryFormat("tiff", "TIFF frames", ".tif", "Finished pictures, 16 bit.", 16),
    DeliveryFormat(
        "exr",
        "OpenEXR frames, light",
        ".exr",
        "Titles as scene-linear light, premultiplied; before optics, grade and view.",
        16,
        "light",
    ),
    DeliveryFormat(
        "exr-passes",
        "OpenEXR frames, every pass",
        ".exr",
        "Parts: beauty, titles, shadow, plate, depth, normal, motion, ids of parts.",
        16,
        "passes",
    ),
    DeliveryFormat(
        "exr-lights",
        "OpenEXR frames, each light apart",
        ".exr",
        "A part for each light; together they are the titles. Traced once a light.",
        16,
        "lights",
    ),
)

FORMATS: dict[str, DeliveryFormat] = {each.name: each for each in _FORMATS}


def formats_of(suffix: str) -> list[DeliveryFormat]:
    """The formats with a suffix, the usual one first."""
    low = {".tiff": ".tif"}.get(suffix.lower(), suffix.lower())
    return [each for each in _FORMATS if each.suffix == low]


def chosen_format(name: str, suffix: str) -> DeliveryFormat:
    """The format of a ``name``, or where that is empty the usual one of a file's suffix; FormatError where
    they do not agree.

    >>> chosen_format("", ".mov").label
    'ProRes 422 HQ in MOV'
    >>> chosen_format("hevc", ".mp4").bits
    10
    """
    found = formats_of(suffix)
    if not name:
        if not found:
            raise FormatError(
                f"'{suffix}' is no kind of file we write; end the name with "
                f"{', '.join(dict.fromkeys(each.suffix for each in _FORMATS))}"
            )
        return found[0]
    if (named := named_format(name)) not in found:
        raise FormatError(f"'{name}' is written as {named.suffix} files, not as '{suffix}'")
    return named


def named_format(name: str) -> DeliveryFormat:
    """The format of a name; FormatError where there is none."""
    if name not in FORMATS:
        raise FormatError(f"'{name}' is not a format; choose {', '.join(FORMATS)}")
    return FORMATS[name]
