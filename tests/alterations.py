"""A good document with one thing otherwise, anywhere."""

import json

ODDITIES = ("gone", None, "", "x", True, -1, 0, [], {}, ["x"], 0.0, -1.0, 0.1, 0.7, 3.0, 1e3, 1e9)


def places_of(document, place=()):
    members = document.items() if isinstance(document, dict) else enumerate(document)
    for key, member in members:
        yield (*place, key)
        if isinstance(member, dict | list):
            yield from places_of(member, (*place, key))


def altered(document, place, how):
    """The document with one thing otherwise."""
    document = json.loads(json.dumps(document))
    at = document
    for key in place[:-1]:
        at = at[key]
    if how == "gone":
        del at[place[-1]]
    elif isinstance(how, float):
        at[place[-1]] = at[place[-1]] * how if isinstance(at[place[-1]], int | float) else how
    else:
        at[place[-1]] = how
    return document
