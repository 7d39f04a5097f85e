"""Money in whole pence. Nothing in this program ever holds pounds as a float."""

SIGN = "£"


class MoneyError(Exception):
    """An amount that cannot be read or divided."""


def pence(pounds, rest=0):
    """Whole pence from pounds and pence given apart: pence(3, 40) is 340."""
    if rest < 0 or rest > 99:
        raise MoneyError("the pence must be from 0 to 99, not %d" % rest)
    if pounds < 0:
        return pounds * 100 - rest
    return pounds * 100 + rest


def format_pence(amount, sign=SIGN):
    """340 as £3.40, -5 as -£0.05, 123456 as £1,234.56."""
    minus = "-" if amount < 0 else ""
    pounds, rest = divmod(abs(amount), 100)
    groups = []
    text = str(pounds)
    while len(text) > 3:
        groups.insert(0, text[-3:])
        text = text[:-3]
    groups.insert(0, text)
    return "%s%s%s.%02d" % (minus, sign, ",".join(groups), rest)


def parse_pence(text):
    """Reads what format_pence writes, and the plain "3.4" or "3" that people type."""
    cleaned = text.strip().replace(SIGN, "").replace(",", "")
    minus = cleaned.startswith("-")
    if minus:
        cleaned = cleaned[1:]
    whole, point, rest = cleaned.partition(".")
    if not whole.isdigit() or (point and not rest.isdigit()) or len(rest) > 2:
        raise MoneyError("not an amount: %s" % text)
    amount = int(whole) * 100 + int((rest + "00")[:2])
    return -amount if minus else amount


def split_evenly(amount, parts):
    """Splits an amount into parts that differ by a penny at most; the first ones get the odd pennies."""
    if parts < 1:
        raise MoneyError("nothing to split between")
    if amount < 0:
        return [-share for share in split_evenly(-amount, parts)]
    each, odd = divmod(amount, parts)
    return [each + 1 if index < odd else each for index in range(parts)]


def split_by_weight(amount, weights):
    """Splits by weights with the largest-remainder rule, so that the shares add up exactly."""
    total = sum(weights)
    if total <= 0 or any(weight < 0 for weight in weights):
        raise MoneyError("weights must be positive")
    shares = [amount * weight // total for weight in weights]
    remainders = [amount * weight % total for weight in weights]
    order = sorted(range(len(weights)), key=lambda index: (-remainders[index], index))
    for index in order[: amount - sum(shares)]:
        shares[index] += 1
    return shares


def total(amounts):
    """The sum of amounts, each of which must be whole pence."""
    result = 0
    for amount in amounts:
        if int(amount) != amount:
            raise MoneyError("not whole pence: %s" % amount)
        result += int(amount)
    return result


def coins(amount, kinds=(200, 100, 50, 20, 10, 5, 2, 1)):
    """How to pay out an amount with the fewest coins, as {coin: count}."""
    if amount < 0:
        raise MoneyError("cannot pay out less than nothing")
    result = {}
    for coin in kinds:
        count, amount = divmod(amount, coin)
        if count:
            result[str(coin)] = count
    return result


def ledger(entries):
    """Running balances of (label, amount) entries, with the lowest point on the way."""
    balance = 0
    lowest = 0
    lines = []
    for label, amount in entries:
        balance += amount
        lowest = min(lowest, balance)
        lines.append({"label": label, "amount": amount, "balance": balance})
    return {"lines": lines, "closing": balance, "lowest_point": lowest}
