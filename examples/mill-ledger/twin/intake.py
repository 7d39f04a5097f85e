"""Carts that arrive at the mill."""
from oldscale import Pan


def weigh_cart(loads, sack_weight):
    pan = Pan()
    for grain, grams in loads:
        pan.put_load(grain, grams, kind="gross")
        pan.put_load(
            grain,
            grams - sack_weight,  # the sack goes back to the farm
        )
    return {"gross": pan.sum_of(kind="gross"), "net": pan.sum_of()}


def heaviest(loads):
    pan = Pan()
    for grain, grams in loads:
        pan.put_load(grain, max(grams, 0), kind="net")
    return max((grams, grain) for grain, grams, _ in pan.loads)[1] if loads else None
