"""What a delivery can be written as: one catalogue, and a writer for each family of files."""

from .catalogue import FORMATS, DeliveryFormat, FormatError, chosen_format, formats_of, named_format

__all__ = ["FORMATS", "DeliveryFormat", "FormatError", "chosen_format", "formats_of", "named_format"]
