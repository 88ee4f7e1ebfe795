"""What tells who somebody is does not stay in a text; what only looks like it does."""

from unittest import TestCase

from driftfield.core.voices import scrubbed

# Reserved for examples: RFC 2606 and 5737 (names), Ofcom's numbers for drama, the German regulator's for films,
# North American 555-01xx, a test card of ISO/IEC 7812 and the IBAN examples of ISO 13616 (from memory).
TOLD = (
    "jo.fell@example.org", "jo+pots@mail.example.com", "o'neill@example.net", "https://www.example.org/me?x=1",
    "www.example.com/jo", "@jo_fells", "+44 20 7946 0958", "020 7946 0958", "07700 900123", "(0191) 498-0123",
    "+1 212-555-0142", "+49 30 23125 014", "030/23125-014", "4111 1111 1111 1111", "4111-1111-1111-1111",
    "GB29 NWBK 6016 1331 9268 19", "DE89 3704 0044 0532 0130 00", "GB29NWBK60161331926819",
    "12 Weir Bank Lane", "7b Fennel Road", "221 Kiln Close", "Lindenstraße 14", "Mühlenweg 3a", "EC1A 1BB", "M1 1AE",
    "Mrs Fell", "Dr. Anna Quern", "Herr Müller", "Frau Groß-Weber",
)  # fmt: skip
KEPT = (
    "Bought in 2024 for 18.50", "holds 1.5 litres at 20 cm", "12 x 30 x 45 mm", "order of 1,250 pieces", "10/10",
    "Frost of −12 in January 2025", "a 3 m hose and 1/2 inch", "Model HQ 4120", "the 2nd one in 5 years", "Street food pot",
    "Herr wird es nicht", "1st May 2025", "it was £1,299.00", "EN 1186",
)  # fmt: skip


class Scrubbed(TestCase):
    def test_nothing_of_the_list_stays(self) -> None:
        for told in TOLD:
            for text in (
                told,
                f"I am {told}, call me.",
                f"({told})",
                f"Lid cracked.\n{told}\nSad.",
            ):
                left = scrubbed(text)
                self.assertIn("[…]", left, text)
                self.assertNotIn(told, left)
        self.assertEqual(scrubbed("Hello, my name is Jo Fell and the lid cracked"),
                         "Hello, my name is […] and the lid cracked")  # fmt: skip

    def test_figures_of_goods_stay(self) -> None:
        for text in KEPT:
            self.assertEqual(scrubbed(text), text)

    def test_long_texts_take_no_longer_than_their_length(self) -> None:
        for text in ("1 " * 20_000, "a@" * 20_000, "A" * 40_000, "Mr " * 10_000, "12 Aa " * 8_000):
            scrubbed(text)
