"""The shapes that go over the wire; the front end's types are generated from them.

All seconds here are of the play copy (it starts at 0), so that the player needs no arithmetic.
"""

from juxtakine.web.schemas.clips import *
from juxtakine.web.schemas.routines import *
from juxtakine.web.schemas.sheets import *
