"""Broken files are read or refused with a sentence; a short run of benchmarks/fuzz_reader.py."""

from unittest import TestCase

from benchmarks.fuzz_reader import main


class Fuzz(TestCase):
    def test_some_hundred_broken_files(self) -> None:
        self.assertEqual(main(300, 7), 0)
