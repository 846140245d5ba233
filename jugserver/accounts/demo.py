"""The invented people of the demo."""

from __future__ import annotations

from dataclasses import dataclass

from django.contrib.auth.hashers import make_password

from jugserver.accounts.models import Role, Site, User

DEMO_SITE = "Tannery Yard Coffee Room"
#: Shown on the sign-in page in demo mode; demo data holds nothing real.
DEMO_PASSWORD = "river-town-demo"


@dataclass(frozen=True)
class DemoPerson:
    username: str
    name: str
    role: str
    pin: str


DEMO_PEOPLE = (
    DemoPerson("ines", "Ines Calloway", Role.LEAD, "2580"),
    DemoPerson("rafe", "Rafe Oduya", Role.PREP, "1470"),
    DemoPerson("mina", "Mina Thorsen", Role.PREP, "3690"),
    DemoPerson("bars", "The bars", Role.VIEW, ""),
    DemoPerson("kiln", "Kiln Lane", Role.BAR, ""),
)


def load() -> Site:
    """Make the demo's site and people; safe to call again."""
    site, _ = Site.objects.get_or_create(name=DEMO_SITE)
    for person in DEMO_PEOPLE:
        user, made = User.objects.get_or_create(username=person.username, defaults={"site": site, "role": person.role, "display_name": person.name})
        if made:
            user.set_password(DEMO_PASSWORD)
        if person.pin and not user.pin:
            user.pin = make_password(person.pin)
        user.save(update_fields=["password", "pin"])
    return site
