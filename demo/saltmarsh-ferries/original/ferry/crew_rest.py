"""Hours of duty and rest: eleven hours between duties, nine hours on a boat, one long rest a week."""

import datetime

MOST_ON_DUTY = datetime.timedelta(hours=9)
LEAST_REST = datetime.timedelta(hours=11)
LONG_REST = datetime.timedelta(hours=35)


class RosterError(Exception):
    """A roster that cannot be read."""


class Duty:
    """One stretch of work of one person."""

    def __init__(self, person, start, end):
        if end <= start:
            raise RosterError("%s: a duty must end after it starts" % person)
        self.person = person
        self.start = start
        self.end = end

    @property
    def length(self):
        return self.end - self.start

    def minutes(self):
        return int(self.length.total_seconds() // 60)


def duties_from(rows):
    """Duties from [person, start, end] rows of ISO times, by start."""
    duties = []
    for person, start, end in rows:
        try:
            duties.append(Duty(person, datetime.datetime.fromisoformat(start), datetime.datetime.fromisoformat(end)))
        except ValueError:
            raise RosterError("%s: not a time in %s, %s" % (person, start, end)) from None
    return sorted(duties, key=lambda duty: (duty.start, duty.person))


def rests(duties):
    """Person -> minutes of rest between one duty and the next."""
    last = {}
    found = {}
    for duty in duties:
        if duty.person in last:
            gap = duty.start - last[duty.person].end
            found.setdefault(duty.person, []).append(int(gap.total_seconds() // 60))
        last[duty.person] = duty
    return found


def broken_rules(rows):
    """Every rule that a roster breaks, as sentences by time."""
    duties = duties_from(rows)
    found = []
    last = {}
    for duty in duties:
        if duty.length > MOST_ON_DUTY:
            found.append("%s is on duty for %d minutes from %s" % (duty.person, duty.minutes(), duty.start.strftime("%d %b %H:%M")))
        before = last.get(duty.person)
        if before is not None:
            rest = duty.start - before.end
            if rest < datetime.timedelta(0):
                found.append("%s is in two places at %s" % (duty.person, duty.start.strftime("%d %b %H:%M")))
            elif rest < LEAST_REST:
                hours = rest.total_seconds() / 3600
                found.append("%s rests only %.1f hours before %s" % (duty.person, hours, duty.start.strftime("%d %b %H:%M")))
        last[duty.person] = duty
    return found


def has_long_rest(rows, person):
    """Whether a person has one long rest between the duties of a week."""
    own = [duty for duty in duties_from(rows) if duty.person == person]
    if len(own) < 2:
        return True
    return any(later.start - earlier.end >= LONG_REST for earlier, later in zip(own, own[1:]))


def hours_worked(rows):
    """Person -> hours to a tenth."""
    minutes = {}
    for duty in duties_from(rows):
        minutes[duty.person] = minutes.get(duty.person, 0) + duty.minutes()
    return {person: round(total / 60, 1) for person, total in minutes.items()}


def free_at(rows, moment):
    """Who could start a duty at a moment: not on duty, and rested."""
    when = datetime.datetime.fromisoformat(moment)
    people = {}
    for duty in duties_from(rows):
        people.setdefault(duty.person, []).append(duty)
    free = []
    for person, duties in people.items():
        if any(duty.start <= when < duty.end for duty in duties):
            continue
        ended = [duty.end for duty in duties if duty.end <= when]
        if not ended or when - max(ended) >= LEAST_REST:
            free.append(person)
    return sorted(free)
