"""Typed lines and words of recipes, read by a shelf of a few things: no server, no database."""

from __future__ import annotations

import unittest
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from jugcore.exchange.line_search import recipe_line, typed_line
from jugcore.exchange.name_match import match_name
from jugcore.exchange.recipe_lines import piece_amount
from jugcore.matter.library import library
from jugcore.matter.search_text import plain, searchable


@dataclass(frozen=True)
class Book:
    key: str
    title: str
    other_names: Sequence[str]
    pieces: Collection[str]
    of_site: bool = False


class Books:
    """The library, and a few of one's own, searched as the pantry is."""

    def __init__(self, *own: Book) -> None:
        self._own = own
        self._all = [*own, *(Book(b.id, b.title, b.also_called, tuple(b.pieces)) for b in sorted(library().values(), key=lambda b: plain(b.title)))]

    def search(self, typed: str) -> list[Book]:
        return self.like(plain(typed), plain(typed).split())

    def like(self, typed: str, words: Sequence[str]) -> list[Book]:
        found = [each for each in self._all if all(f" {word}" in searchable((each.title, *each.other_names)) for word in words)]
        return sorted(found, key=lambda each: (not plain(each.title).startswith(typed), plain(each.title)))[:20]

    def keyed(self, key: str) -> Book | None:
        return next((each for each in self._all if each.key == key), None)

    def own_called(self, titles: Sequence[str]) -> Mapping[str, Book]:
        return {plain(each.title): each for each in self._own if plain(each.title) in titles}


class TypedLines(unittest.TestCase):
    def test_words_are_the_thing_and_the_rest_is_the_amount(self) -> None:
        shelf = Books()
        for text, key, amount in (
            ("250 g water", "water", "250 g"), ("water 250 g", "water", "250 g"), ("2 tsp honey", "honey", "2 tsp"), ("a pinch of fine salt", "salt", "a pinch"),
            ("30 % of the sugar", "white_sugar", "30% of the"),
        ):  # fmt: skip
            with self.subTest(text):
                found = typed_line(shelf, text)
                self.assertTrue(found.found, text)
                self.assertEqual(found.amount, amount)
                if key in {each.key for each in found.found}:
                    continue
                self.fail(f"{text}: {[each.key for each in found.found][:5]}")

    def test_a_thing_of_ones_own_is_meant_before_the_library(self) -> None:
        mine = Book("own_sugar", "Sugar", (), (), of_site=True)
        self.assertEqual(typed_line(Books(mine), "200 g sugar").found[0].key, "own_sugar")
        self.assertEqual(typed_line(Books(), "200 g sugar").found[0].key, "white_sugar")

    def test_nothing_where_nothing_is_named(self) -> None:
        self.assertEqual(typed_line(Books(), "xyzzy 12").found, ())
        self.assertEqual(typed_line(Books(), "").amount, "")

    def test_a_recipes_line_is_read_as_recipes_write_them(self) -> None:
        self.assertEqual(recipe_line(Books(), "1 cup (200 g) white sugar").found[0].key, "white_sugar")

    def test_how_much_without_saying_it_is_no_part_of_the_name(self) -> None:
        for words, key in (
            ("knob of butter", "butter"), ("a good glug of honey", "honey"), ("splash of milk", "whole_milk"), ("sprigs of thyme", "thyme_fresh"),
            ("2 handfuls of blueberries", "blueberry"), ("lump of unsalted butter", "butter_unsalted"),
        ):  # fmt: skip
            with self.subTest(words=words):
                found = match_name(Books(), words)
                self.assertEqual((found.meant or found.others[0]).key, key)
                self.assertIsNotNone(found.meant)
        self.assertIsNone(match_name(Books(), "knob of moon dust").meant)

    def test_packs_hold_what_one_of_them_holds_so_many_times(self) -> None:
        for text, amount in (("2 (14 oz) tins condensed milk", "28 oz"), ("1 (12 fl oz) can evaporated milk", "12 fl oz")):
            with self.subTest(text=text):
                self.assertEqual(recipe_line(Books(), text).amount, amount)

    def test_a_bare_number_counts_pieces_and_an_amount_stays(self) -> None:
        for amount, words, pieces, alone, wanted in (
            ("2", "lemons", ("lemon",), False, "2 lemon"), ("2", "large eggs", ("egg", "yolk"), False, "2 egg"),
            ("1", "vanilla", ("bean",), True, "1 bean"), ("1", "vanilla extract", ("bean",), False, ""), ("3", "butter", (), True, ""),
            ("2 tsp", "lemons", ("lemon",), False, "2 tsp"), ("1 lb 3 oz", "lemons", ("lemon",), False, "1 lb 3 oz"),
            ("some", "lemons", ("lemon",), False, "some"),
        ):  # fmt: skip
            with self.subTest(amount=amount, words=words):
                self.assertEqual(piece_amount(amount, words, pieces, alone=alone), wanted)

    def test_what_is_counted_in_the_pieces_named_is_meant_and_the_rest_stays_to_choose_from(self) -> None:
        paste, whole, ground = Book("paste", "Moss paste", (), ()), Book("whole", "Moss, whole", (), ("pod",)), Book("ground", "Moss, ground", (), ())
        for pieces, meant in (("", "ground"), ("pods", "whole"), ("tins", "ground")):
            with self.subTest(pieces=pieces):
                found = match_name(Books(paste, whole, ground), "moss", counted_in=pieces)
                assert found.meant is not None
                self.assertEqual(found.meant.key, meant)
                self.assertEqual(sorted(row.key for row in found.others), sorted({"paste", "whole", "ground"} - {meant}))

    def test_words_for_many_things_are_no_certain_one(self) -> None:
        self.assertFalse(match_name(Books(), "cream").sure)
        self.assertIsNone(match_name(Books(), "xyzzy").meant)
        found = match_name(Books(), "whole milk")
        self.assertEqual((found.meant and found.meant.key, found.sure), ("whole_milk", True))
        mine = Book("own_quince", "Yard quinces", (), (), of_site=True)
        found = match_name(Books(mine), "yard quinces, chopped")
        self.assertEqual(found.meant and found.meant.key, "own_quince")
