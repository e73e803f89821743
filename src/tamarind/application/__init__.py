"""The application without a window: the open job and what is done with it.

``session`` puts the rest together: ``recordings``, ``texts`` (edits and undo), ``sounds``,
``jobstyles``, ``jobsettings``, ``saving``; ``pooldesk`` with ``looking``, ``line`` and ``ondemand``
(work in the background); ``checking``. What happens is told by ``events``; time and threads come
from a ``loop``, which a window gives.
"""
