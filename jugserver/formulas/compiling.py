"""A document ready to walk: in its kitchen, with what the site has of its own."""

from __future__ import annotations

from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugserver.accounts.models import Site
from jugserver.kitchen.services import kitchen_of
from jugserver.pantry.pantry_overlay import with_pantry


def compiled(document: MethodDocument, site: Site) -> Method:
    """A document ready to walk: in its own kitchen or the site's, with what the site has of its own in its pantry."""
    return in_kitchen(with_pantry([document], site)[0], kitchen_of(site).kitchen)


def in_kitchen(document: MethodDocument, kitchen: Kitchen) -> Method:
    """A document ready to walk in its own kitchen, else in this one."""
    if document.kitchen is not None:
        return compile_document(document)
    return compile_document(document.model_copy(update={"kitchen": kitchen}), asks=True)
