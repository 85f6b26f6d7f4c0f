"""The job itself: pure Python and numeric libraries.

Nothing here knows an interface, a database or the web; every rule and every computation of the
trade lives in one of these rooms.
"""
