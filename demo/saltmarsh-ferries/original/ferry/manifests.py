"""Passenger manifests: read from CSV, merged, sorted and summed up."""

import csv
import io

FIELDS = ["name", "kind", "landing", "bags"]


class ManifestError(Exception):
    """A manifest that cannot be read."""


def read(text):
    """Rows of a manifest as dictionaries. Bags are a number; blank lines are passed over."""
    reader = csv.reader(io.StringIO(text))
    rows = [row for row in reader if row]
    if not rows:
        raise ManifestError("the manifest is empty")
    if rows[0] != FIELDS:
        raise ManifestError("the first line must be %s" % ",".join(FIELDS))
    result = []
    for number, row in enumerate(rows[1:], start=2):
        if len(row) != len(FIELDS):
            raise ManifestError("row %d has %d fields" % (number, len(row)))
        entry = dict(zip(FIELDS, row))
        if not entry["bags"].isdigit():
            raise ManifestError("row %d: bags must be a number" % number)
        entry["bags"] = int(entry["bags"])
        result.append(entry)
    return result


def write(rows):
    """Rows as CSV text with the usual heading."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(FIELDS)
    for row in rows:
        writer.writerow([row[field] for field in FIELDS])
    return out.getvalue()


def by_landing(rows):
    """Landing -> names, in the order of the manifest."""
    result = {}
    for row in rows:
        result.setdefault(row["landing"], []).append(row["name"])
    return result


def sorted_names(rows):
    """All names in alphabetical order; the manifest itself stays as it is."""
    return sorted(row["name"] for row in rows)


def merge(first, second):
    """Two manifests as one: by name, bags added up. Neither of them is changed."""
    merged = {}
    for row in first + second:
        if row["name"] in merged:
            merged[row["name"]] = dict(merged[row["name"]], bags=merged[row["name"]]["bags"] + row["bags"])
        else:
            merged[row["name"]] = row
    return list(merged.values())


def heaviest(rows, count=3):
    """Names of those with the most bags; equal ones in the order of the manifest."""
    order = sorted(rows, key=lambda row: -row["bags"])
    return [row["name"] for row in order[:count]]


def summary(rows):
    """Counts by kind, and bags in all."""
    kinds = {}
    for row in rows:
        kinds[row["kind"]] = kinds.get(row["kind"], 0) + 1
    return {"people": len(rows), "kinds": kinds, "bags": sum(row["bags"] for row in rows)}


def drop(rows, names):
    """The manifest without some people."""
    gone = set(names)
    return [row for row in rows if row["name"] not in gone]


def seats(rows):
    """Seats needed: infants sit on laps, dogs lie under them."""
    return sum(1 for row in rows if row["kind"] not in ("infant", "dog"))
