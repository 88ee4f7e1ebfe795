"""Files of other layouts as exchange tables: which column is which, and how its cells are written.

``layout`` looks at a file, ``propose`` says what it may be, ``Mapping`` is what the researcher agreed to,
and ``convert`` turns the file into the CSV it stands for. The rest of the reader then sees one form only.
"""

from .agreed import NOTHING_AGREED, Agreed, fitting, table_as_it_stands
from .beginnings import Alike, look_through, try_mapping
from .convert import convert
from .document import proposals, read_document
from .layout import Layout, look
from .model import Mapping, Use
from .propose import Proposal, propose

__all__ = [
    "NOTHING_AGREED", "Agreed", "Alike", "Layout", "Mapping", "Proposal", "Use", "convert", "fitting", "look",
    "look_through", "proposals", "propose", "read_document", "table_as_it_stands", "try_mapping",
]  # fmt: skip
