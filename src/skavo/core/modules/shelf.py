"""The ready modules, in the order a questionnaire usually asks them."""

from __future__ import annotations

from skavo.core.modules.household import DWELLING, PEOPLE
from skavo.core.modules.module import Module
from skavo.core.modules.money import INCOME, QUANTITIES
from skavo.core.modules.opinions import AGREEMENT
from skavo.core.modules.visit import ARRIVAL, CLOSING, CONSENT

READY: tuple[Module, ...] = (ARRIVAL, CONSENT, PEOPLE, DWELLING, INCOME, QUANTITIES, AGREEMENT, CLOSING)
