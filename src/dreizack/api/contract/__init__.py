"""What travels beside plain JSON answers - headers of blocks, messages of the socket - as models.

They are part of the published description, from which the interface's types are made.
"""

from .messages import Connected, KeptFrame, News, PictureHeader, Refusal
from .published import add_published
from .scene_facts import AreaThing, BodyFacts, FanFacts, FormFacts, LampFacts, PictureFacts, SceneFacts

__all__ = [
    "AreaThing",
    "BodyFacts",
    "Connected",
    "FanFacts",
    "FormFacts",
    "KeptFrame",
    "LampFacts",
    "News",
    "PictureFacts",
    "PictureHeader",
    "Refusal",
    "SceneFacts",
    "add_published",
]
