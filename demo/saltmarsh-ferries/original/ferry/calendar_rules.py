"""Days on which boats run: seasons, quiet days, and the notes printed under the timetable."""

import datetime

# Quiet days of the line; month and day, the same every year.
QUIET_DAYS = [(1, 1), (3, 25), (5, 1), (8, 28), (12, 25), (12, 26)]
SUMMER = (4, 2), (9, 30)
WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"]
MONTHS = [
    "January", "February", "March", "April", "May", "June",
    "July", "August", "September", "October", "November", "December",
]


class CalendarError(Exception):
    """A date that cannot be read."""


def parse_day(text):
    """Reads "2031-04-02"."""
    try:
        return datetime.datetime.strptime(text, "%Y-%m-%d").date()
    except ValueError:
        raise CalendarError("not a day: %s" % text) from None


def is_quiet(day):
    """Sundays and the quiet days of the line."""
    return day.weekday() == 6 or (day.month, day.day) in QUIET_DAYS


def season(day):
    """"summer" from 2 April to 30 September, else "winter"."""
    first, last = SUMMER
    return "summer" if first <= (day.month, day.day) <= last else "winter"


def timetable_for(day):
    """Which of the four timetables runs on a day."""
    quiet = "quiet" if is_quiet(day) else "work"
    return "%s-%s" % (season(day), quiet)


def weekday_name(day):
    """The day of the week in full."""
    return WEEKDAYS[day.weekday()]


def month_name(day):
    """The month in full."""
    return MONTHS[day.month - 1]


def long_day(day):
    """"Wednesday 2 April 2031"."""
    return "%s %d %s %d" % (weekday_name(day), day.day, month_name(day), day.year)


def week_number(day):
    """The ISO week of a day, with its year: 2031-12-31 lies in week 1 of 2032."""
    year, week, _ = day.isocalendar()
    return {"year": year, "week": week}


def days_until(day, later):
    """Whole days from one day to another; negative when it lies before."""
    return (later - day).days


def add_days(day, count):
    """The day so many days later."""
    return day + datetime.timedelta(days=count)


def next_work_day(day):
    """The first day after this one that is not quiet."""
    day = add_days(day, 1)
    while is_quiet(day):
        day = add_days(day, 1)
    return day


def is_leap(year):
    """Whether a year has a 29 February."""
    return year % 4 == 0 and (year % 100 != 0 or year % 400 == 0)


def days_in_month(year, month):
    """How many days a month has; months count from 1."""
    if month < 1 or month > 12:
        raise CalendarError("no month %d" % month)
    if month == 2:
        return 29 if is_leap(year) else 28
    return 30 if month in (4, 6, 9, 11) else 31


def easter(year):
    """Easter Sunday of a year, by the anonymous Gregorian computus."""
    golden = year % 19
    century, rest = divmod(year, 100)
    leaps, odd = divmod(century, 4)
    shift = (century + 8) // 25
    moon = (century - shift + 1) // 3
    epact = (19 * golden + century - leaps - moon + 15) % 30
    quarter, left = divmod(rest, 4)
    weekday = (32 + 2 * odd + 2 * quarter - epact - left) % 7
    late = (golden + 11 * epact + 22 * weekday) // 451
    month, day = divmod(epact + weekday - 7 * late + 114, 31)
    return datetime.date(year, month, day + 1)


def quiet_days_in(year):
    """All quiet days of a year that are not Sundays, with Easter Monday among them."""
    days = [datetime.date(year, month, day) for month, day in QUIET_DAYS]
    days.append(add_days(easter(year), 1))
    return sorted(day for day in days if day.weekday() != 6)
