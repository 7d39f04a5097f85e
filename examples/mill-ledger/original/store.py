"""What lies in the store, in sacks."""
import oldscale


def sacks_left(grams, taken):
    left = oldscale.to_sacks(grams) - sum(oldscale.to_sacks(each, sack=25000) for each in taken)
    return left


def label(grain, grams):
    return "%s: %d sacks" % (grain, oldscale.to_sacks(grams))
