"""Who may do what. One table; services ask it, screens read it."""

from __future__ import annotations

from jugserver.accounts.models import Role, User
from jugserver.http.problems import NotAllowed

#: Deeds and the roles that may do them.
MAY: dict[str, frozenset[str]] = {
    "read": frozenset({Role.LEAD, Role.PREP, Role.VIEW}),
    "walk": frozenset({Role.LEAD, Role.PREP, Role.VIEW}),
    "edit_formulas": frozenset({Role.LEAD}),
    "mark_ready": frozenset({Role.LEAD}),
    "edit_kitchen": frozenset({Role.LEAD}),
    "edit_pantry": frozenset({Role.LEAD}),
    "keep_lots": frozenset({Role.LEAD, Role.PREP}),
    "see_stock": frozenset({Role.LEAD, Role.PREP, Role.VIEW, Role.BAR}),
    "move_stock": frozenset({Role.LEAD, Role.PREP, Role.BAR}),
    "taste": frozenset({Role.LEAD, Role.PREP}),
    "cook": frozenset({Role.LEAD, Role.PREP}),
    "plan": frozenset({Role.LEAD}),
    "look_after_people": frozenset({Role.LEAD}),
    "see_changes": frozenset({Role.LEAD}),
}
_WORDS = {
    "edit_formulas": "change formulas",
    "mark_ready": "say what may be served",
    "edit_kitchen": "change the kitchen",
    "edit_pantry": "change the pantry",
    "keep_lots": "write down lots",
    "read": "look",
    "walk": "compute",
    "see_stock": "see what is on hand",
    "move_stock": "enter what became of bottles",
    "cook": "enter what was cooked",
    "plan": "plan what is made",
    "taste": "write down what was tasted",
    "look_after_people": "look after people's PINs",
    "see_changes": "see who changed what",
}


#: Deeds that a PIN does not open.
_NEED_PASSWORD = frozenset({"edit_formulas", "mark_ready", "edit_kitchen", "edit_pantry", "look_after_people", "see_changes"})


def may(user: User, deed: str) -> bool:
    """Whether this person may do this deed. People without a site may do nothing."""
    return user.is_active and user.site_id is not None and user.role in MAY[deed] and not (user.by_pin and deed in _NEED_PASSWORD)


def require(user: User, deed: str) -> None:
    """Raise NotAllowed unless this person may."""
    if user.by_pin and deed in _NEED_PASSWORD and user.role in MAY[deed]:
        raise NotAllowed("", f"A PIN is not enough to {_WORDS[deed]}.", "Sign in with your password.")
    if not may(user, deed):
        raise NotAllowed("", f"The role “{user.role}” may not {_WORDS[deed]}.", "Ask a lead to do it, or to change the role.")
