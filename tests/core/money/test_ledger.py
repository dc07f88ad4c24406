"""Cost lines by hand."""

from decimal import Decimal

from idle_harbor.core.figures.footprint import Footprint
from idle_harbor.core.money.ledger import Priced, Usage, monthly_ledger, settable, total_of
from idle_harbor.core.plan import Disk, Licence, Machine, Prices, Size
from tests.builders import pool


def test_a_month_by_hand():
    # 100 host-hours a week: × 365.25 / 12 / 7 = 434.821428…, at 0.412: 179.15.
    # 10 hosts on for a quarter of the time: 2.5 × 9.20 + 7.5 × 4.60 = 23.00 + 34.50.
    size = Size("s", 8, 32, Decimal("0.412"), "typed", 1, 0)
    disk = Disk("d", Decimal("9.20"), Decimal("4.60"), "typed")
    lines = monthly_ledger(
        Priced(pool(standing=10), size, disk, Prices()),
        Usage(7, 168.0, 100.0, 420.0, 0, Footprint(1680.0, 0.0, 0.0, 0.0, 0.0, 0.0)),
    )
    assert [(line.id, str(line.amount)) for line in lines] == [
        ("compute", "179.15"),
        ("disks on", "23.00"),
        ("disks off", "34.50"),
    ]
    assert total_of(lines) == Decimal("236.65")
    assert total_of([]) == Decimal("0.00")


def test_machines_are_rented_whole():
    # 19 hosts, nine to a machine: three machines, each for 730.5 hours of a month at 2.
    size = Size("s", 8, 32, Decimal(0), "typed", 1, 0, machine=Machine(9, Decimal(2)))
    nothing = Footprint(0.0, 0.0, 0.0, 0.0, 0.0, 0.0)
    usage = Usage(7, 168.0, 0.0, 0.0, 0, nothing)
    for hosts, amount in ((18, "2922.00"), (19, "4383.00")):
        lines = monthly_ledger(Priced(pool(standing=hosts), size, None, Prices()), usage)
        assert [str(line.amount) for line in lines if line.id == "own hardware"] == [amount]


def test_each_line_is_rounded_once_half_up():
    size = Size("s", 8, 32, Decimal("0.005"), "typed", 1, 0)
    # 7 days of 365.25 / 12 days are one month: 1 hour × 30.4375 × 0.005 = 0.1521875
    nothing = Footprint(0.0, 0.0, 0.0, 0.0, 0.0, 0.0)
    priced = Priced(pool(), size, None, Prices())
    lines = monthly_ledger(priced, Usage(1, 24.0, 1.0, 1.0, 0, nothing))
    assert str(lines[0].amount) == "0.15"


def test_settings_change_what_hosts_cost_and_not_what_people_cost():
    # Ten addresses at 3, seven people at 5.
    size = Size("s", 8, 32, Decimal("0.412"), "typed", 1, 0)
    prices = Prices(
        egress_gib=Decimal(2),
        address_month=Decimal(3),
        licences=(Licence("desk", Decimal(5)),),
    )
    used = Footprint(1680.0, 0.0, 14.0, 0.0, 0.0, 0.0)
    usage = Usage(7, 168.0, 70.0, 70.0, 7, used)
    lines = monthly_ledger(Priced(pool(standing=10), size, None, prices), usage)
    amounts = {line.id: line.amount for line in lines}
    assert list(amounts) == ["compute", "egress", "addresses", "licence desk"]
    assert (amounts["addresses"], amounts["licence desk"]) == (Decimal("30.00"), Decimal("35.00"))
    assert settable(lines) == amounts["compute"] + Decimal("30.00")
    assert all(line.meaning for line in lines)
