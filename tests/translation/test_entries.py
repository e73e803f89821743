import random
import unittest

from tamarind.translation.entries import changed_cues, with_changes


class WhatDiffers(unittest.TestCase):
    def test_it_is_the_same_as_by_comparing_all_whatever_was_made_of_what(self):
        chance = random.Random(7)
        versions = [{n: object() for n in range(30)}]
        for _ in range(300):
            before = chance.choice(versions[-12:])
            changes = {chance.randrange(40): chance.choice((object(), None)) for _ in range(3)}
            versions.append(with_changes(before, changes))
            one, other = chance.choice(versions), chance.choice(versions[-12:])
            differ = {n for n in {**one, **other} if one.get(n) is not other.get(n)}
            self.assertEqual(set(changed_cues(one, other)), differ)

    def test_what_changes_nothing_makes_no_new_version(self):
        before = {1: "a"}
        self.assertIs(with_changes(before, {1: "a", 2: None}), before)
