"""Favour texts with given terms, by a prefix tree of their tokens.

Contextual shallow fusion on a prefix tree (Zhao et al. 2019, "Shallow-Fusion End-to-End Contextual
Biasing"): each token that goes on within a term adds to the score; a text that leaves the tree
before a term is whole gives back what it got.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from tamarind.speech.glossary import Glossary
from tamarind.speech.recognisers.vocabulary import Vocabulary

Floats = NDArray[np.float32]
Ints = NDArray[np.int64]

REWARD = 3.0
"""Natural log by which each token of a term is favoured."""

GREATEST_REWARD = 12.0
"""No term gets more than this, however many tokens it has."""

_ROOT = 0


@dataclass(slots=True)
class _Node:
    earned: float = 0.0
    is_term: bool = False
    children: dict[int, int] = field(default_factory=dict)


class TermBias:
    """A ``Bias`` of the search (see ``tamarind.speech.search``) towards a glossary's terms."""

    def __init__(self, glossary: Glossary, vocabulary: Vocabulary) -> None:
        self._nodes = [_Node()]
        for term in glossary.terms:
            for text in {term.text, term.text[:1].upper() + term.text[1:]}:
                self._add(vocabulary.encode(f" {text}"))
        # From outside all terms, which is where most texts are, a token's way is looked up at once.
        self._first = np.zeros(len(vocabulary), np.int64)
        for token, further in self._nodes[_ROOT].children.items():
            self._first[token] = further
        self._begun = np.array(list(self._nodes[_ROOT].children), np.int64)
        self._earned = np.array([node.earned for node in self._nodes], np.float32)

    def start(self) -> int:
        """Return the root of the tree: outside all terms."""
        return _ROOT

    def wanted(self, states: Ints) -> Ints:
        """Return the tokens with which a term goes on or begins, (rows, any number), -1 for
        none."""
        inside = np.flatnonzero(states != _ROOT)
        further = [list(self._nodes[states[row]].children) for row in inside]
        width = max(map(len, further), default=0)
        result = np.full((len(states), width + len(self._begun)), -1, np.int64)
        result[:, width:] = self._begun
        for row, tokens in zip(inside, further, strict=True):
            result[row, : len(tokens)] = tokens
        return result

    def moves(self, states: Ints, tokens: Ints) -> tuple[Ints, Floats]:
        """Return where tokens (rows, columns) lead from states (rows,), and what they add to the
        score."""
        after = self._first[tokens]
        added = self._earned[after]
        for row in np.flatnonzero(states != _ROOT):
            node = self._nodes[states[row]]
            added[row] -= 0.0 if node.is_term else node.earned
            for token, further in node.children.items():
                columns = tokens[row] == token
                after[row, columns] = further
                added[row, columns] = self._earned[further] - node.earned
        return after, added

    def _add(self, tokens: Sequence[int]) -> None:
        place = _ROOT
        step = min(REWARD, GREATEST_REWARD / max(len(tokens), 1))
        for depth, token in enumerate(tokens, 1):
            known = self._nodes[place].children.get(token)
            if known is None:
                known = len(self._nodes)
                self._nodes[place].children[token] = known
                self._nodes.append(_Node())
            place = known
            self._nodes[place].earned = max(self._nodes[place].earned, depth * step)
        if place != _ROOT:
            self._nodes[place].is_term = True
