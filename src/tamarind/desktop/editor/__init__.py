"""An editor of text in rows, made of parts that each do one thing.

``content`` says what a sheet shows and who writes it; ``shown`` is its text as it stands on the
screen, ``geometry`` where its rows are, ``caret`` and ``movement`` the place that is worked at,
``editing``, ``pointer`` and ``inputmethod`` what a person does there, ``layers`` and ``overlay``
what else is drawn, and ``sheet`` the widget that has them all.
"""
