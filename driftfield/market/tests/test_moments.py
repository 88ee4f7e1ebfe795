"""Reading as of one moment while another program writes."""

from threading import Thread

from django.db import DatabaseError, connection
from django.test import TransactionTestCase

from driftfield.market.models import Market
from driftfield.market.moments import one_moment


def elsewhere(name: str) -> None:
    """A market is made by another program, as far as the database knows."""

    def make() -> None:
        Market.objects.create(market_id=name, name=name)
        connection.close()

    other = Thread(target=make)
    other.start()
    other.join()


def names() -> list[str]:
    return sorted(Market.objects.values_list("name", flat=True))


class Moments(TransactionTestCase):
    def test_what_is_written_meanwhile_is_seen_afterwards(self) -> None:
        with one_moment():
            self.assertEqual(names(), [])
            elsewhere("north")
            self.assertEqual(names(), [])
        self.assertEqual(names(), ["north"])

    def test_nothing_is_written_inside_and_everything_after_a_fault(self) -> None:
        with self.assertRaisesMessage(DatabaseError, "readonly"), one_moment():
            names()
            Market.objects.create(market_id="north", name="north")
        Market.objects.create(market_id="south", name="south")
        self.assertEqual(names(), ["south"])

    def test_who_reads_holds_up_nobody_and_asks_for_nothing_unasked(self) -> None:
        connection.close()
        with one_moment():
            pass
        self.assertIsNone(connection.connection)
        with one_moment():
            names()
            elsewhere("north")
            elsewhere("south")
        self.assertEqual(names(), ["north", "south"])
