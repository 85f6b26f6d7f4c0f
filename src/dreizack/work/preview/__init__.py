"""The traced view: a process of its own that traces what people look at, newest wish first.

The parent sends wishes through a pipe; pictures come back as they sharpen. A new wish of the same
viewer calls the old one off, even in the middle of denoising.
"""

from .messages import Answered, Kept, Picture, Question, Wish
from .process import start_preview

# Folder of the finished pictures.
VIEWS = "views"

__all__ = ["VIEWS", "Answered", "Kept", "Picture", "Question", "Wish", "start_preview"]
